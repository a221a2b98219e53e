CREATE TABLE `media` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`folder` varchar(120) NOT NULL DEFAULT '',
	`bytes` bigint NOT NULL,
	`added_at` bigint NOT NULL,
	`about` longtext NOT NULL,
	`analysis` longtext,
	`settings` longtext NOT NULL,
	`deleted_at` bigint,
	CONSTRAINT `media_id` PRIMARY KEY(`id`)
);
