CREATE TABLE `destinations` (
	`id` varchar(64) NOT NULL,
	`about` longtext,
	`sealed` text NOT NULL,
	CONSTRAINT `destinations_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `figures` (
	`id` int AUTO_INCREMENT NOT NULL,
	`event_id` varchar(64) NOT NULL,
	`broadcast_id` varchar(64) NOT NULL,
	`at` bigint NOT NULL,
	`figures` longtext NOT NULL,
	CONSTRAINT `figures_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `recordings` ADD `kind` varchar(20) DEFAULT 'program' NOT NULL;--> statement-breakpoint
ALTER TABLE `recordings` ADD `name` varchar(120) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `figures` ADD CONSTRAINT `figures_event_id_events_id_fk` FOREIGN KEY (`event_id`) REFERENCES `events`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `figures_broadcast` ON `figures` (`event_id`,`broadcast_id`);--> statement-breakpoint
UPDATE `recordings` SET `kind` = 'clip' WHERE `id` LIKE 'clip-%';--> statement-breakpoint
INSERT IGNORE INTO `destinations` (`id`, `sealed`) SELECT `destination_id`, `sealed` FROM `destination_secrets`;
