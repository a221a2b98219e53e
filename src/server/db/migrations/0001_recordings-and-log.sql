CREATE TABLE `log_lines` (
	`id` int AUTO_INCREMENT NOT NULL,
	`event_id` varchar(64) NOT NULL,
	`at` bigint NOT NULL,
	`kind` varchar(20) NOT NULL,
	`text` varchar(500) NOT NULL,
	CONSTRAINT `log_lines_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `recordings` ADD `deleted_at` bigint;--> statement-breakpoint
ALTER TABLE `log_lines` ADD CONSTRAINT `log_lines_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `log_lines_event` ON `log_lines` (`event_id`,`at`);