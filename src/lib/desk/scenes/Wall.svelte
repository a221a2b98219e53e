<script lang="ts">
	import { DotsVerticalOutline, PenOutline, PlusOutline } from 'flowbite-svelte-icons';
	import { isClip, standingOf } from '../../../core/show/clips/source.ts';
	import { guestIn, seatsFor } from '../../../core/show/guests/guest.ts';
	import { plainScene, type Scene } from '../../../core/show/scenes/scene.ts';
	import { newId } from '../../show/new-id.ts';
	import { useNow } from '../../show/now.svelte.ts';
	import Button from '../../ui/Button.svelte';
	import { faultShort } from '../../words/index.ts';
	import { scenes as words } from '../../words/index.ts';
	import { clockOf } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { drag, takes } from '../pictures/drag.ts';
	import Monitor from '../pictures/Monitor.svelte';

	interface Props {
		/** Opens the wall in a window of its own. */
		onsecond?: () => void;
		/** True in a window of its own, which it fills; there it only shows and chooses. */
		alone?: boolean;
	}
	let { onsecond, alone = false }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);
	const time = useNow(session.show);

	/** By scene, the clip in it. */
	const clips = $derived(
		new Map(
			show.setup.scenes.flatMap(({ id, layers }) => {
				const clip = show.setup.sources.find(
					(source) => isClip(source) && layers.some(({ sourceId }) => sourceId === source.id),
				);
				return isClip(clip) ? [[id, clip] as const] : [];
			}),
		),
	);
	/** What is left of the clip in a scene, or how long it is while it waits; empty without one. */
	function leftOf(scene: Scene): string {
		const clip = clips.get(scene.id);
		if (!clip) return '';
		const { leftMs, positionMs } = standingOf(show, clip, time.now);
		return leftMs === null ? clockOf(positionMs / 1000) : `−${clockOf(Math.ceil(leftMs / 1000))}`;
	}

	/** A few scenes get large tiles, many share the width; and one place is for the next. */
	const tiles = $derived(show.setup.scenes.length + (alone ? 0 : 1));
	const across = $derived(alone ? Math.ceil(Math.sqrt(tiles)) : tiles <= 3 ? 3 : tiles === 4 ? 4 : 5);

	const markOf = (scene: Scene) =>
		scene.id === show.live.program ? session.programMark : scene.id === show.live.next ? 'next' : 'none';
	function faultOf({ layers }: Scene): string {
		const conditions = layers.map(({ sourceId }) => session.conditions.get(sourceId));
		if (conditions.some((condition) => condition?.state === 'lost')) return words.noPicture;
		const fault = conditions.map((condition) => condition?.fault).find((each) => each);
		return fault ? faultShort(fault) : '';
	}

	function add() {
		const id = newId();
		const scene = plainScene(id, words.scene(show.setup.scenes.length + 1), []);
		if (session.do({ type: 'addScene', scene })) session.sheet.editScene(id);
	}

	/** A guest who is dropped on a scene gets a seat in it: a free one, or the first. */
	function seat(guestId: string, { layers }: Scene) {
		const seats = layers.flatMap(({ sourceId }) => seatsFor(show).filter(({ id }) => id === sourceId));
		const chosen = seats.find(({ id }) => !guestIn(show, id)) ?? seats[0];
		if (chosen) session.do({ type: 'placeGuest', guestId, seatId: chosen.id });
		else session.notify(words.noSeatThere);
	}
</script>

<section
	class="grid gap-2 {alone
		? 'w-full max-w-[calc((100vh-1rem)*16/9)]'
		: 'min-h-[4rem] flex-1 content-start overflow-y-auto'}"
	style:grid-template-columns="repeat({across}, minmax(0, 1fr))"
	aria-label={words.wall}
>
	{#each show.setup.scenes as scene, index (scene.id)}
		<div class="group relative" role="presentation" {...takes(['guest'], ({ id }) => seat(id, scene))}>
			<Button
				look="bare"
				class="block w-full text-left"
				aria-label="{show.setup.direct ? words.take : words.putInNext}: {scene.name}"
				onpress={() => session.choose(scene.id, false)}
			>
				<Monitor
					subject={{ sceneId: scene.id }}
					mark={markOf(scene)}
					label="{index + 1} {scene.name}"
					empty={scene.layers.length === 0 && scene.background.is !== 'own' && show.setup.background === null}
					fault={faultOf(scene)}
					compact={across > 3 && !alone}
					class="w-full"
				/>
			</Button>
			{#if clips.has(scene.id)}
				<span
					class="figures pointer-events-none absolute right-8 bottom-1 bg-ink/85 px-1 {across > 3 && !alone
						? 'text-sm'
						: 'text-lg'}">{leftOf(scene)}</span
				>
			{/if}
			{#if !alone}
				<span
					class="absolute bottom-1 left-1 cursor-grab rounded-sm bg-ink/85 py-1 text-gray-300 opacity-0 group-hover:opacity-100"
					role="presentation"
					draggable="true"
					title={words.dragIntoSheet}
					data-drag-scene={scene.id}
					ondragstart={(event) => drag(event, { is: 'scene', id: scene.id })}
					><DotsVerticalOutline class="size-4" /></span
				>
				<Button
					look="bare"
					class="absolute right-1 bottom-1 rounded-sm bg-ink/85 p-1 text-paper hover:text-lamp focus-visible:opacity-100"
					aria-label={words.editScene(scene.name)}
					hint={words.edit}
					onclick={() => session.sheet.editScene(scene.id)}
				>
					<PenOutline class="size-4" />
				</Button>
			{/if}
		</div>
	{:else}
		<p class="col-span-full grid h-32 place-items-center border-2 border-dashed border-gray-500 text-gray-300">
			{words.noScenesYetAddCamera}
		</p>
	{/each}
	{#if !alone}
		<div class="grid aspect-video gap-1">
			<Button
				look="bare"
				class="grid place-items-center border-2 border-dashed border-gray-600 text-sm text-gray-300 hover:border-lamp hover:text-lamp"
				onclick={add}
			>
				<span class="flex items-center gap-1"><PlusOutline class="size-4" /> {words.newScene}</span>
			</Button>
			{#if onsecond && session.isEngine}
				<Button
					look="bare"
					class="grid place-items-center border-2 border-dashed border-gray-600 px-2 text-xs text-gray-300 hover:border-lamp hover:text-lamp"
					hint={words.opensWallLargeInWindow}
					onclick={onsecond}
				>
					{words.wallOnSecondScreen}
				</Button>
			{/if}
		</div>
	{/if}
</section>
