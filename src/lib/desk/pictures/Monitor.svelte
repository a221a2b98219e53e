<script lang="ts">
	import { Badge } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import type { Rect } from '../../../core/picture/geometry.ts';
	import { sceneOnWall } from '../../../core/watch/views.ts';
	import type { MonitorSubject } from '../../../engine/messages.ts';
	import { canWatch } from '../../../engine/watch/view-decoder.ts';
	import { watchSeen } from '../../ui/seen.ts';
	import { pictures as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { onWholePixels } from './whole-pixels.ts';

	interface Props {
		subject: MonitorSubject;
		/** How the picture is marked, never by colour alone. */
		mark: 'onAir' | 'rehearsal' | 'program' | 'next' | 'none';
		label: string;
		empty: boolean;
		/** What is wrong with the picture, if anything. */
		fault?: string;
		/** Said beside the name. */
		note?: string;
		/** True for small tiles. */
		compact?: boolean;
		/** False where the name stands beside it. */
		named?: boolean;
		class?: string;
	}
	let {
		subject,
		mark,
		label,
		empty,
		fault = '',
		note = '',
		compact = false,
		named = true,
		class: extra = '',
	}: Props = $props();
	const session = useDesk();

	const { eventId } = $derived(session);
	const picture = $derived(session.show.state?.setup.picture ?? { width: 16, height: 9 });

	const MARKS = {
		onAir: { text: words.onAir, look: 'bg-air text-white dark:bg-air dark:text-white' },
		rehearsal: { text: words.rehearsal, look: 'bg-paper text-ink dark:bg-paper dark:text-ink' },
		program: { text: words.program, look: 'bg-gray-700 text-paper dark:bg-gray-700 dark:text-paper' },
		next: { text: words.next, look: 'border border-lamp bg-ink text-lamp dark:bg-ink dark:text-lamp' },
	} as const;

	/** Which view shows it where another page makes the program; null for none. */
	const view = $derived(
		'bus' in subject ? subject.bus : 'sceneId' in subject && !subject.changed && !subject.opacityOf ? 'wall' : null,
	);
	const watches = $derived(session.isWatching && view !== null && canWatch());
	let hasPicture = $state(false);

	/** Shows the view's picture, or the scene's cell of it, while anybody can see it. */
	function watched(canvas: HTMLCanvasElement) {
		const context = canvas.getContext('2d', { alpha: false })!;
		const show = (frame: VideoFrame, order: number) => {
			const area = untrack(() => areaOf(frame, order));
			if (!area) return;
			const { x, y, width, height } = area;
			if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
			context.drawImage(frame, x, y, width, height, 0, 0, width, height);
			hasPicture = true;
		};
		let leave = () => {};
		const stop = watchSeen(canvas, (seen) => {
			leave();
			leave = seen && view ? session.views.watch(view, show) : () => {};
		});
		return () => {
			stop();
			leave();
			hasPicture = false;
		};
	}
	/** Where the subject is in a view's picture; null where that shows other scenes than this page knows. */
	function areaOf({ displayWidth: width, displayHeight: height }: VideoFrame, order: number): Rect | null {
		if (!('sceneId' in subject)) return { x: 0, y: 0, width, height };
		const ids = session.state.setup.scenes.map(({ id }) => id);
		return sceneOnWall(ids, subject.sceneId, order);
	}

	/** Gives the canvas to the engine, follows its size on the page, and takes it back at the end. */
	function monitor(canvas: HTMLCanvasElement) {
		const engine = session.engine;
		if (!engine) return;
		// A canvas can be given away only once, so a new subject must not begin this anew.
		const drawn = untrack(() => engine.addMonitor(canvas, $state.snapshot(subject)));
		$effect(() => drawn.point($state.snapshot(subject)));
		const frame = canvas.parentElement!;
		const sizes = new ResizeObserver(() => {
			const fitted = onWholePixels(frame.getBoundingClientRect(), Math.min(2, devicePixelRatio));
			Object.assign(canvas.style, fitted.style);
			drawn.resize(fitted.size);
		});
		sizes.observe(frame);
		const stopWatching = watchSeen(canvas, (seen) => drawn.see(seen));
		return () => {
			sizes.disconnect();
			stopWatching();
			drawn.remove();
		};
	}
</script>

<div
	class="relative overflow-hidden rounded-sm bg-black {extra} {mark === 'onAir'
		? 'border-4 border-air'
		: mark === 'rehearsal'
			? 'border-4 border-dashed border-paper'
			: mark === 'next'
				? 'border-4 border-double border-lamp'
				: 'border border-slate-rule'}"
	style:aspect-ratio="{picture.width} / {picture.height}"
	data-event={eventId}
>
	{#if session.engine}
		{#key session.engine}
			<canvas class="absolute" {@attach monitor} aria-label={words.picture(label)}></canvas>
		{/key}
	{/if}
	{#if watches}
		<canvas class="absolute size-full object-contain" {@attach watched} aria-label={words.picture(label)}></canvas>
	{/if}
	{#if empty || !(session.engine || (watches && hasPicture))}
		<div
			class="absolute inset-0 grid place-items-center border-2 border-dashed border-gray-500 p-2 text-center text-sm text-gray-300"
		>
			{session.isWatching && !watches ? words.madeInAnotherTab : empty ? words.nothingHere : words.starting}
		</div>
	{/if}
	{#if fault}
		<p class="absolute inset-x-0 bottom-0 border-t-4 border-lamp bg-ink/90 px-2 py-1 text-xs font-semibold">{fault}</p>
	{/if}
	<p class="absolute top-0 left-0 flex max-w-full font-bold {compact ? 'text-xs' : 'text-sm'}">
		{#if mark !== 'none'}
			{@const { text, look } = MARKS[mark]}
			<Badge params={{ duration: 0 }} class={look}>{mark === 'program' && !compact ? words.programNotSent : text}</Badge
			>
		{/if}
		{#if named}<span class="truncate bg-ink/85 px-2 py-0.5" title={label}>{label}</span>{/if}
		{#if note}<Badge params={{ duration: 0 }} class="bg-lamp text-ink dark:bg-lamp dark:text-ink">{note}</Badge>{/if}
	</p>
</div>
