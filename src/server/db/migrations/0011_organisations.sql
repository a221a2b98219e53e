CREATE TABLE `organisations` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`created_at` bigint NOT NULL,
	CONSTRAINT `organisations_id` PRIMARY KEY(`id`)
);
