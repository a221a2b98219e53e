CREATE TABLE `template_versions` (
	`template_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`version` int NOT NULL,
	`at` bigint NOT NULL,
	`show_state` longtext NOT NULL,
	CONSTRAINT `template_versions_template_id_version_pk` PRIMARY KEY(`template_id`,`version`)
);
--> statement-breakpoint
CREATE TABLE `templates` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`asks` longtext NOT NULL,
	`deleted_at` bigint,
	CONSTRAINT `templates_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
ALTER TABLE `destinations` ADD `key_typed_at` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `destinations` ADD `sent_at` bigint DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `devices` ADD `opens` varchar(80) DEFAULT '' NOT NULL;--> statement-breakpoint
ALTER TABLE `events` ADD `template_id` varchar(64) character set ascii collate ascii_bin;--> statement-breakpoint
ALTER TABLE `events` ADD `template_version` int DEFAULT 0 NOT NULL;--> statement-breakpoint
ALTER TABLE `events` ADD `archived_at` bigint;--> statement-breakpoint
ALTER TABLE `events` ADD `deleted_at` bigint;--> statement-breakpoint
ALTER TABLE `events` ADD `facts` longtext;--> statement-breakpoint
ALTER TABLE `template_versions` ADD CONSTRAINT `template_versions_template_id_templates_id_fk` FOREIGN KEY (`template_id`) REFERENCES `templates`(`id`) ON DELETE cascade ON UPDATE no action;