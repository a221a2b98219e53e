CREATE TABLE `host_sign_ins` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`profile` longtext NOT NULL,
	`sealed` text NOT NULL,
	`state` varchar(20) NOT NULL,
	CONSTRAINT `host_sign_ins_id` PRIMARY KEY(`id`)
);
