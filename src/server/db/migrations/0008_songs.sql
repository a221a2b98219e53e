CREATE TABLE `songs` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`title` varchar(120) NOT NULL,
	`song` longtext NOT NULL,
	`search` mediumtext NOT NULL,
	`changed_at` bigint NOT NULL,
	CONSTRAINT `songs_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE INDEX `songs_title` ON `songs` (`title`);