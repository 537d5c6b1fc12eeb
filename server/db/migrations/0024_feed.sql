CREATE TABLE `feed_factors` (
	`printer_id` text NOT NULL,
	`stock_id` text NOT NULL,
	`factor` real,
	`measured_ms` integer,
	`take_up` text,
	`to_measure_ms` integer,
	PRIMARY KEY(`printer_id`, `stock_id`)
);
