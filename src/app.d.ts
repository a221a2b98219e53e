import type { AnyRole } from '$core/access/roles.ts';
import type { Admitted } from '$server/access/access.ts';
import type { Bivvo } from '$server/bivvo.ts';
import type { Organisations } from '$server/organisations.ts';

declare global {
	/** The open server: set by hooks.server.ts, used by whatever owns the HTTP server. */
	var organisations: Organisations | undefined;
	namespace App {
		interface Locals {
			/** Of the organisation that the request is for. */
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
