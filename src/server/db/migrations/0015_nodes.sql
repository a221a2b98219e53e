CREATE TABLE `event_leases` (
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`node` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`fence` bigint NOT NULL,
	`expires_at` bigint NOT NULL,
	`writes` bigint NOT NULL DEFAULT 0,
	CONSTRAINT `event_leases_event_id` PRIMARY KEY(`event_id`)
);
--> statement-breakpoint
CREATE TABLE `handovers` (
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`broadcast_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`began_at` bigint NOT NULL,
	`introduced` longblob NOT NULL,
	CONSTRAINT `handovers_event_id` PRIMARY KEY(`event_id`)
);
--> statement-breakpoint
CREATE TABLE `nodes` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`url` varchar(255) NOT NULL,
	`public_url` varchar(255),
	`key_mark` varchar(43) NOT NULL,
	`version` varchar(40) NOT NULL,
	`started_at` bigint NOT NULL,
	`seen_at` bigint NOT NULL,
	`load_now` longtext NOT NULL,
	`emptying` varchar(10),
	CONSTRAINT `nodes_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `events` ADD `on_air` boolean DEFAULT false NOT NULL;--> statement-breakpoint
ALTER TABLE `recordings` ADD `place` varchar(64) character set ascii collate ascii_bin DEFAULT '' NOT NULL;--> statement-breakpoint
CREATE INDEX `event_leases_node` ON `event_leases` (`node`);