CREATE TABLE `commands` (
	`event_id` varchar(64) NOT NULL,
	`seq` int NOT NULL,
	`at` bigint NOT NULL,
	`by_client` varchar(64) NOT NULL,
	`command_id` varchar(64) NOT NULL,
	`command` longtext NOT NULL,
	CONSTRAINT `commands_event_id_seq_pk` PRIMARY KEY(`event_id`,`seq`)
);
--> statement-breakpoint
CREATE TABLE `destination_secrets` (
	`event_id` varchar(64) NOT NULL,
	`destination_id` varchar(64) NOT NULL,
	`sealed` text NOT NULL,
	CONSTRAINT `destination_secrets_event_id_destination_id_pk` PRIMARY KEY(`event_id`,`destination_id`)
);
--> statement-breakpoint
CREATE TABLE `events` (
	`id` varchar(64) NOT NULL,
	`title` varchar(120) NOT NULL,
	`starts_at` varchar(40) NOT NULL,
	`created_at` bigint NOT NULL,
	`snapshot_seq` int NOT NULL,
	`snapshot` longtext NOT NULL,
	CONSTRAINT `events_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `recordings` (
	`id` varchar(64) NOT NULL,
	`event_id` varchar(64) NOT NULL,
	`broadcast_id` varchar(64) NOT NULL,
	`started_at` bigint NOT NULL,
	`ended_at` bigint,
	`file` varchar(255) NOT NULL,
	`bytes` bigint NOT NULL,
	CONSTRAINT `recordings_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `commands` ADD CONSTRAINT `commands_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
ALTER TABLE `destination_secrets` ADD CONSTRAINT `destination_secrets_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `recordings_event` ON `recordings` (`event_id`);