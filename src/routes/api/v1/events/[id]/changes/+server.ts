import { apiStateOf } from '$core/programs/api.ts';
import { eventOf } from '../../../../../answer.ts';
import type { RequestHandler } from './$types';

/** Changes that come together are told as one. */
const TOGETHER_MS = 40;
/** So often something is sent, so that nobody on the way ends a connection that is only quiet. */
const BEAT_MS = 15_000;
/** A reader that is behind by more than so many states is ended; it comes again. */
const MOST_WAITING = 64;

/** How an event stands, now and after each change: server-sent events (HTML, section 9.2). */
export const GET: RequestHandler = async (event) => {
	const { hub } = await eventOf(event);
	const { access } = event.locals.bivvo;
	const { actor } = event.locals.admitted;
	let end = () => {};
	const body = new ReadableStream<Uint8Array>(
		{
			start(controller) {
				const write = (text: string) => {
					if ((controller.desiredSize ?? 0) < -MOST_WAITING) return end();
					controller.enqueue(new TextEncoder().encode(text));
				};
				let told = '';
				let timer: ReturnType<typeof setTimeout> | undefined;
				const tell = () => {
					timer = undefined;
					// A token that was taken back tells nothing more.
					if (actor?.kind === 'program' && !access.tokens.get(actor.id)) return end();
					const state = JSON.stringify(apiStateOf(hub.state, hub.seq));
					if (state !== told) write(`id: ${hub.seq}\nevent: state\ndata: ${state}\n\n`);
					told = state;
				};
				const leave = hub.subscribe(({ type }) => {
					if (type === 'applied') timer ??= setTimeout(tell, TOGETHER_MS);
				});
				const beat = setInterval(() => write(': still here\n\n'), BEAT_MS);
				end = () => {
					leave();
					clearTimeout(timer);
					clearInterval(beat);
					end = () => {};
					try {
						controller.close();
					} catch {
						// Whoever read it has gone.
					}
				};
				tell();
			},
			cancel: () => end(),
		},
		{ highWaterMark: 1 },
	);
	event.request.signal.addEventListener('abort', () => end());
	return new Response(body, {
		headers: { 'Content-Type': 'text/event-stream', 'Cache-Control': 'no-store', 'X-Accel-Buffering': 'no' },
	});
};
