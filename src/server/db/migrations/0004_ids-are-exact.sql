CREATE TABLE `set_aside` (
	`id` int AUTO_INCREMENT NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`at` bigint NOT NULL,
	`unreadable` longtext NOT NULL,
	`snapshot` longtext NOT NULL,
	CONSTRAINT `set_aside_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `commands` DROP FOREIGN KEY `commands_event_id_events_id_fk`;--> statement-breakpoint
ALTER TABLE `figures` DROP FOREIGN KEY `figures_event_id_events_id_fk`;--> statement-breakpoint
ALTER TABLE `log_lines` DROP FOREIGN KEY `log_lines_event_id_events_id_fk`;--> statement-breakpoint
ALTER TABLE `commands` MODIFY COLUMN `event_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `commands` MODIFY COLUMN `by_client` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `commands` MODIFY COLUMN `command_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `destinations` MODIFY COLUMN `id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `events` MODIFY COLUMN `id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `figures` MODIFY COLUMN `event_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `figures` MODIFY COLUMN `broadcast_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `log_lines` MODIFY COLUMN `event_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `recordings` MODIFY COLUMN `id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `recordings` MODIFY COLUMN `event_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `recordings` MODIFY COLUMN `broadcast_id` varchar(64) character set ascii collate ascii_bin NOT NULL;--> statement-breakpoint
ALTER TABLE `events` ADD `due_at` bigint;--> statement-breakpoint
ALTER TABLE `figures` ADD `entry` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `log_lines` ADD `entry` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `figures` ADD CONSTRAINT `figures_entry_unique` UNIQUE(`entry`);--> statement-breakpoint
ALTER TABLE `log_lines` ADD CONSTRAINT `log_lines_entry_unique` UNIQUE(`entry`);--> statement-breakpoint
ALTER TABLE `commands` ADD CONSTRAINT `commands_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `figures` ADD CONSTRAINT `figures_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `log_lines` ADD CONSTRAINT `log_lines_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
UPDATE `log_lines` SET `kind` = 'rehearsal' WHERE `kind` = 'broadcast' AND `text` = 'Rehearsal';
