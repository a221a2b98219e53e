import type { AnyRole } from '$core/access/roles.ts';
import type { Admitted } from '$server/access/access.ts';
import type { Bivvo } from '$server/bivvo.ts';

declare global {
	/** The open server: set by hooks.server.ts, used by whatever owns the HTTP server to pass on upgrades. */
	var bivvo: Bivvo | undefined;
	namespace App {
		interface Locals {
			bivvo: Bivvo;
			/** Who asks, and from where. */
			admitted: Admitted;
		}
		interface PageData {
			/** At the event that the page is about. */
			role?: AnyRole | null;
		}
		interface Error {
			message: string;
			/** Of a refusal. */
			code?: string;
		}
	}
}

export {};
