CREATE TABLE `audit_lines` (
	`id` int AUTO_INCREMENT NOT NULL,
	`at` bigint NOT NULL,
	`code` varchar(40) NOT NULL,
	`actor_kind` varchar(20) NOT NULL,
	`actor_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`actor_name` varchar(120) NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin,
	`about` longtext NOT NULL,
	`address` varchar(64) NOT NULL,
	`entry` varchar(64) character set ascii collate ascii_bin,
	CONSTRAINT `audit_lines_id` PRIMARY KEY(`id`),
	CONSTRAINT `audit_lines_entry_unique` UNIQUE(`entry`)
);
--> statement-breakpoint
CREATE TABLE `devices` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`role` varchar(20) NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin,
	`paired_at` bigint NOT NULL,
	`paired_by` varchar(120) NOT NULL,
	`revoked_at` bigint,
	CONSTRAINT `devices_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `invitations` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`hash` char(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`role` varchar(20),
	`role_at` longtext NOT NULL,
	`created_at` bigint NOT NULL,
	`expires_at` bigint NOT NULL,
	`used_at` bigint,
	CONSTRAINT `invitations_id` PRIMARY KEY(`id`),
	CONSTRAINT `invitations_hash_unique` UNIQUE(`hash`)
);
--> statement-breakpoint
CREATE TABLE `links` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`hash` char(64) character set ascii collate ascii_bin NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`role` varchar(20) NOT NULL,
	`created_at` bigint NOT NULL,
	`expires_at` bigint NOT NULL,
	`uses_left` int NOT NULL,
	`uses` int NOT NULL DEFAULT 0,
	`revoked_at` bigint,
	CONSTRAINT `links_id` PRIMARY KEY(`id`),
	CONSTRAINT `links_hash_unique` UNIQUE(`hash`)
);
--> statement-breakpoint
CREATE TABLE `organisation` (
	`name` varchar(40) NOT NULL,
	`value` longtext NOT NULL,
	CONSTRAINT `organisation_name` PRIMARY KEY(`name`)
);
--> statement-breakpoint
CREATE TABLE `passkeys` (
	`id` varchar(500) NOT NULL,
	`person_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`public_key` text NOT NULL,
	`counter` bigint NOT NULL,
	`transports` longtext NOT NULL,
	`created_at` bigint NOT NULL,
	`used_at` bigint,
	CONSTRAINT `passkeys_id` PRIMARY KEY(`id`)
);
--> statement-breakpoint
CREATE TABLE `people` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`login` varchar(64) NOT NULL,
	`role` varchar(20),
	`role_at` longtext NOT NULL,
	`password` varchar(255),
	`second_factor` text,
	`last_step` int NOT NULL DEFAULT 0,
	`created_at` bigint NOT NULL,
	`removed_at` bigint,
	CONSTRAINT `people_id` PRIMARY KEY(`id`),
	CONSTRAINT `people_login_unique` UNIQUE(`login`)
);
--> statement-breakpoint
CREATE TABLE `sessions` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`hash` char(64) character set ascii collate ascii_bin NOT NULL,
	`former_hash` char(64) character set ascii collate ascii_bin,
	`former_until` bigint NOT NULL DEFAULT 0,
	`kind` varchar(20) NOT NULL,
	`subject_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL DEFAULT '',
	`created_at` bigint NOT NULL,
	`renewed_at` bigint NOT NULL,
	`seen_at` bigint NOT NULL,
	`expires_at` bigint NOT NULL,
	`address` varchar(64) NOT NULL,
	`agent` varchar(255) NOT NULL,
	CONSTRAINT `sessions_id` PRIMARY KEY(`id`),
	CONSTRAINT `sessions_hash_unique` UNIQUE(`hash`)
);
--> statement-breakpoint
ALTER TABLE `passkeys` ADD CONSTRAINT `passkeys_person_id_people_id_fk` FOREIGN KEY (`person_id`) REFERENCES `people`(`id`) ON DELETE cascade ON UPDATE no action;--> statement-breakpoint
CREATE INDEX `audit_lines_at` ON `audit_lines` (`at`);--> statement-breakpoint
CREATE INDEX `links_event` ON `links` (`event_id`);--> statement-breakpoint
CREATE INDEX `passkeys_person` ON `passkeys` (`person_id`);--> statement-breakpoint
CREATE INDEX `sessions_subject` ON `sessions` (`kind`,`subject_id`);