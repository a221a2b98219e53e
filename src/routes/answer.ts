/** How routes answer: a refusal as its status and sentence, everything else as it is. */
import { error, type RequestEvent } from '@sveltejs/kit';
import * as v from 'valibot';
import { refuse, Refusal, type RefusalCode } from '$core/refusal.ts';
import { refusalWords } from '$lib/words/index.ts';
import type { Room } from '$server/live/room.ts';
import { FencedOff } from '$server/nodes/fence.ts';

/** HTTP status of refusals; 400 for all others. */
const STATUS: Partial<Record<RefusalCode, number>> = {
	noEvent: 404,
	notFound: 404,
	gone: 404,
	exists: 409,
	alreadyOnAir: 409,
	whileOnAir: 409,
	tooLarge: 413,
	host: 422,
	hostAddress: 422,
	noAccount: 422,
	placeGone: 422,
	newerVersion: 409,
	forbidden: 403,
	signInFirst: 401,
	wrongLogin: 403,
	needsCode: 403,
	codeWrong: 403,
	tooOften: 429,
	loginTaken: 409,
	lastOwner: 409,
	linkGone: 410,
	elsewhere: 503,
};

/** A route's handler whose refusals become answers in words. */
export function answering<E extends RequestEvent>(
	handle: (event: E) => Promise<Response>,
): (event: E) => Promise<Response> {
	return (event) => refusing(() => handle(event));
}

/** Does something for a page or a route; a refusal becomes the answer. */
export async function refusing<T>(act: () => Promise<T>): Promise<T> {
	try {
		return await act();
	} catch (problem) {
		const refusal = problem instanceof FencedOff ? refuse('elsewhere', {}) : problem;
		if (!(refusal instanceof Refusal)) throw problem;
		const { code } = refusal.reason;
		error(STATUS[code] ?? 400, { message: refusalWords(refusal.reason), code });
	}
}

/** The event that a page or a route is about. @throws the answer that there is none */
export function eventOf({ params, locals }: { params: { id: string }; locals: App.Locals }): Promise<Room> {
	return refusing(() => locals.bivvo.events.owner(params.id));
}

/** The JSON of a request. @throws {Refusal} when it is not what the schema wants */
export async function bodyOf<S extends v.GenericSchema>(request: Request, schema: S): Promise<v.InferOutput<S>> {
	const body = v.safeParse(schema, await request.json().catch(() => null));
	if (!body.success) {
		const [issue] = body.issues;
		throw refuse('body', { problem: issue.message, field: v.getDotPath(issue) ?? '' });
	}
	return body.output;
}

/** A host's words for why it does not do what it is asked for. */
export function sayingAsHost(error: unknown): never {
	if (error instanceof Refusal) throw error;
	throw refuse('host', { problem: (error as Error).message });
}
