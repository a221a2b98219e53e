import { refuse } from '$core/refusal.ts';
import { eventOf } from '../../../../answer.ts';

/**
 * The camera of a route: one in the network that a source of the event is of.
 * @throws the answer that there is none
 */
export async function cameraOf(event: {
	params: { id: string; camera: string };
	locals: App.Locals;
}): Promise<{ cameraId: string; name: string }> {
	const { hub } = await eventOf(event);
	const source = hub.state.setup.sources.find(
		(each) => each.kind === 'network' && each.cameraId === event.params.camera,
	);
	if (!source) throw refuse('notFound', { what: 'source' });
	return { cameraId: event.params.camera, name: source.name };
}
