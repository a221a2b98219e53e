<script lang="ts">
	/** The program as viewers get it, a moment earlier; or the scene that the crew has chosen for guests. */
	import { VIEWS } from '../../core/watch/views.ts';
	import { ViewDecoder } from '../../engine/watch/view-decoder.ts';
	import { guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';

	let { view }: { view: 'program' | 'forGuests' } = $props();
	const session = useGuest();

	function show(canvas: HTMLCanvasElement) {
		Object.assign(canvas, { width: VIEWS[view].width, height: VIEWS[view].height });
		const context = canvas.getContext('2d')!;
		const decoder = new ViewDecoder((frame) => context.drawImage(frame, 0, 0));
		const leave = session.watch(view, (packet) => decoder.take(packet));
		return () => {
			leave();
			decoder.close();
		};
	}
</script>

<!-- svelte-ignore a11y_no_interactive_element_to_noninteractive_role -->
<canvas
	{@attach show}
	class="aspect-video w-full rounded-sm bg-black"
	aria-label={view === 'program' ? words.program : words.chosenScene}
	role="img"
></canvas>
