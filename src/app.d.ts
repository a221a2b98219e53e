import type { Bivvo } from '$server/bivvo.ts';

declare global {
	/** The open server: set by hooks.server.ts, used by whatever owns the HTTP server to pass on upgrades. */
	var bivvo: Bivvo | undefined;
	namespace App {
		interface Locals {
			bivvo: Bivvo;
		}
		interface Error {
			message: string;
		}
	}
}

export {};
