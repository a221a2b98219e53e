<script lang="ts">
	/** A live picture with boxes on it that are moved and resized by hand, by pointer, touch or arrow keys. */
	import Moveable from 'moveable';
	import { untrack } from 'svelte';
	import type { Attachment } from 'svelte/attachments';
	import { fitInto, type Size } from '../../../core/picture/geometry.ts';
	import type { Box } from '../../../core/show/basics.ts';
	import type { MonitorSubject } from '../../../engine/messages.ts';
	import { pictures as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { takes } from './drag.ts';
	import Monitor from './Monitor.svelte';

	interface Item {
		id: string;
		name: string;
		box: Box;
	}
	interface Props {
		subject: MonitorSubject;
		label: string;
		items: readonly Item[];
		selected: string | null;
		/** Size of what boxes are parts of, when it is not the program itself. */
		of?: Size | null;
		keepShape?: boolean;
		/** True when boxes must stay inside. */
		inside?: boolean;
		onchange: (id: string, box: Box, done: boolean) => void;
		/** Called instead of selecting and moving: a place was picked, in parts. */
		onpick?: ((x: number, y: number) => void) | null;
		/** Boxes with nothing in them yet. */
		places?: readonly Box[];
		/** Called when a source was dropped: on an item by its id, on a place by its number, or beside all of them. */
		onfill?: ((sourceId: string, on: string | number | null) => void) | null;
	}
	let {
		subject,
		label,
		items,
		selected = $bindable(),
		of = null,
		keepShape = false,
		inside = false,
		onchange,
		onpick = null,
		places = [],
		onfill = null,
	}: Props = $props();
	const session = useDesk();

	/** While a hand moves a box the show follows this often. */
	const REPORT_EVERY_MS = 120;
	const STEP = 0.01;

	let frame = $state<HTMLDivElement>();
	let reportedAt = 0;

	const picture = $derived(session.show.state?.setup.picture ?? { width: 16, height: 9 });
	/** Where the picture lies on the monitor, in parts. */
	const area = $derived.by(() => {
		const whole = { x: 0, y: 0, width: picture.width, height: picture.height };
		const { to } = fitInto({ x: 0, y: 0, ...(of ?? picture) }, whole, 'fit');
		return {
			x: to.x / picture.width,
			y: to.y / picture.height,
			width: to.width / picture.width,
			height: to.height / picture.height,
		};
	});
	const percent = (value: number) => `${100 * value}%`;

	function boxOf({ style }: HTMLElement): Box {
		const part = (text: string) => (parseFloat(text) || 0) / 100;
		return { x: part(style.left), y: part(style.top), width: part(style.width), height: part(style.height) };
	}
	function within(box: Box): Box {
		const width = Math.min(1, Math.max(0.02, box.width));
		const height = Math.min(1, Math.max(0.02, box.height));
		const x = Math.min(1 - width, Math.max(0, box.x));
		return { x, y: Math.min(1 - height, Math.max(0, box.y)), width, height };
	}

	// Not reactive on purpose: handles that a hand holds must not be made anew because the show has followed the hand.
	// eslint-disable-next-line svelte/prefer-svelte-reactivity
	const attachments = new Map<string, Attachment<HTMLElement>>();
	function handlesOf(id: string): Attachment<HTMLElement> {
		const made = attachments.get(id) ?? ((element) => untrack(() => handles(element, id)));
		attachments.set(id, made);
		return made;
	}

	/** Handles for the chosen box; it snaps to edges, middle and the other boxes. */
	function handles(element: HTMLElement, id: string) {
		// The frame is bound only after what is within it.
		const around = element.parentElement!;
		// In parts: it keeps its place on a picture that becomes larger or smaller.
		const place = ({ x, y, width, height }: Box) =>
			Object.assign(element.style, {
				left: percent(x),
				top: percent(y),
				width: percent(width),
				height: percent(height),
			});
		/** Puts it where a hand has moved it to, from left and top in pixels, and makes it as large. */
		const move = (left: number, top: number, size?: Size) => {
			const { width, height } = around.getBoundingClientRect();
			const { width: wide, height: high } = boxOf(element);
			place({
				x: left / width,
				y: top / height,
				width: size ? size.width / width : wide,
				height: size ? size.height / height : high,
			});
			report(false);
		};
		place(items.find((item) => item.id === id)!.box);
		const moveable = new Moveable(around, {
			target: element,
			draggable: true,
			resizable: true,
			keepRatio: keepShape,
			snappable: true,
			snapThreshold: 6,
			verticalGuidelines: ['0%', '50%', '100%'],
			horizontalGuidelines: ['0%', '50%', '100%'],
			elementGuidelines: [...around.querySelectorAll<HTMLElement>('[data-box]')].filter((other) => other !== element),
			snapDirections: { left: true, right: true, top: true, bottom: true, center: true, middle: true },
			elementSnapDirections: { left: true, right: true, top: true, bottom: true, center: true, middle: true },
			bounds: inside ? { left: 0, top: 0, right: 0, bottom: 0, position: 'css' } : undefined,
			useResizeObserver: true,
			origin: false,
			edge: false,
		});
		let moving = false;
		const report = (done: boolean) => {
			moving = !done;
			const now = performance.now();
			if (!done && now - reportedAt < REPORT_EVERY_MS) return;
			reportedAt = now;
			const box = boxOf(element);
			onchange(id, inside ? within(box) : box, done);
		};
		moveable
			.on('drag', ({ left, top }) => move(left, top))
			.on('resize', ({ width, height, drag }) => move(drag.left, drag.top, { width, height }))
			.on('dragEnd', ({ isDrag }) => isDrag && report(true))
			.on('resizeEnd', ({ isDrag }) => isDrag && report(true));
		$effect(() => {
			const item = items.find((each) => each.id === id);
			if (!item || moving) return;
			place(item.box);
			moveable.updateRect();
		});
		element.focus({ preventScroll: true });
		return () => moveable.destroy();
	}

	function nudge(event: KeyboardEvent, item: Item) {
		const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [
			0, 0,
		];
		if (!dx && !dy) return;
		event.preventDefault();
		const { box } = item;
		const moved = event.shiftKey
			? { ...box, width: Math.max(0.02, box.width + dx! * STEP), height: Math.max(0.02, box.height + dy! * STEP) }
			: { ...box, x: box.x + dx! * STEP, y: box.y + dy! * STEP };
		onchange(item.id, inside ? within(moved) : moved, true);
	}

	const fills = (on: string | number | null) => (onfill ? takes(['source'], ({ id }) => onfill(id, on)) : {});

	function pick(event: PointerEvent) {
		const { left, top, width, height } = frame!.getBoundingClientRect();
		onpick?.((event.clientX - left) / width, (event.clientY - top) / height);
	}
</script>

<!-- As large as there is room for, and of the picture's own shape: boxes are parts of it. -->
<div class="grid size-full place-content-center [container-type:size]">
	<div
		class="relative"
		style:width="min(100cqw, {picture.width / picture.height} * 100cqh)"
		style:aspect-ratio="{picture.width} / {picture.height}"
	>
		<Monitor {subject} mark="none" {label} empty={false} class="size-full" />
		<div
			bind:this={frame}
			class="absolute"
			style:left={percent(area.x)}
			style:top={percent(area.y)}
			style:width={percent(area.width)}
			style:height={percent(area.height)}
			role="presentation"
			{...fills(null)}
		>
			{#each places as place, index (index)}
				<div
					class="absolute grid place-items-center border-2 border-dashed border-lamp bg-ink/60 p-1 text-center text-xs"
					style:left={percent(place.x)}
					style:top={percent(place.y)}
					style:width={percent(place.width)}
					style:height={percent(place.height)}
					data-place={index}
					role="presentation"
					{...fills(index)}
				>
					{words.dropSourceHere}
				</div>
			{/each}
			{#each items as item (item.id)}
				{#if item.id === selected}
					<!-- svelte-ignore a11y_no_noninteractive_tabindex -->
					<div
						{@attach handlesOf(item.id)}
						class="absolute cursor-move border-2 border-lamp outline-none"
						data-box={item.id}
						role="group"
						aria-label={words.chosenArrowKeysMoveWith(item.name)}
						tabindex="0"
						onkeydown={(event) => nudge(event, item)}
						{...fills(item.id)}
					></div>
				{:else}
					<button
						type="button"
						class="absolute border border-dashed border-paper/60 hover:border-lamp"
						style:left={percent(item.box.x)}
						style:top={percent(item.box.y)}
						style:width={percent(item.box.width)}
						style:height={percent(item.box.height)}
						data-box={item.id}
						aria-label={words.choose(item.name)}
						onclick={() => (selected = item.id)}
						{...fills(item.id)}
					></button>
				{/if}
			{/each}
			{#if onpick}
				<button
					type="button"
					class="absolute inset-0 z-[4000] cursor-crosshair"
					aria-label={words.pickColourFromPicture}
					onpointerdown={pick}
				></button>
			{/if}
		</div>
	</div>
</div>
