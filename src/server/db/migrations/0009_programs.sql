CREATE TABLE `program_tokens` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`hash` char(64) character set ascii collate ascii_bin NOT NULL,
	`name` varchar(120) NOT NULL,
	`role` varchar(20) NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin,
	`created_by` varchar(120) NOT NULL,
	`created_at` bigint NOT NULL,
	`used_at` bigint,
	`revoked_at` bigint,
	CONSTRAINT `program_tokens_id` PRIMARY KEY(`id`),
	CONSTRAINT `program_tokens_hash_unique` UNIQUE(`hash`)
);
--> statement-breakpoint
CREATE TABLE `webhooks` (
	`id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`event_id` varchar(64) character set ascii collate ascii_bin NOT NULL,
	`url` varchar(500) NOT NULL,
	`events` longtext NOT NULL,
	`sealed` text NOT NULL,
	`created_at` bigint NOT NULL,
	CONSTRAINT `webhooks_id` PRIMARY KEY(`id`)
);
