CREATE TABLE `watched_events` (
	`destination_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`watched` longtext NOT NULL,
	CONSTRAINT `watched_events_destination_id_event_id_pk` PRIMARY KEY(`destination_id`,`event_id`)
);
--> statement-breakpoint
ALTER TABLE `watched_events` ADD CONSTRAINT `watched_events_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;