<script lang="ts">
	/** Plays a clip, pauses it, goes to another place in it. What one page does, all others see. */
	import { Range } from 'flowbite-svelte';
	import {
		BackwardStepSolid,
		ChevronLeftOutline,
		ChevronRightOutline,
		PauseSolid,
		PlaySolid,
	} from 'flowbite-svelte-icons';
	import { standingOf, type ClipSource } from '../../../core/show/clips/source.ts';
	import { useSession } from '../../show/context.ts';
	import { useNow } from '../../show/now.svelte.ts';
	import Button from '../../ui/Button.svelte';
	import { clips as words, clockOf } from '../../words/index.ts';

	interface Props {
		source: ClipSource;
	}
	let { source }: Props = $props();
	const session = useSession();
	const time = useNow(session.show);
	const clip = $derived(standingOf(session.state, source, time.now));
	const frameMs = $derived(1000 / session.state.setup.picture.fps);
	const { id: sourceId } = $derived(source);

	const seek = (positionMs: number) =>
		session.do({ type: 'seekClip', sourceId, positionMs: Math.min(clip.lengthMs, Math.max(0, positionMs)) });
</script>

<div class="flex flex-wrap items-center gap-1" role="group" aria-label={words.transport(source.name)}>
	<Button
		size="sm"
		aria-label={words.fromStart}
		hint={words.fromStartHint}
		onpress={() => session.do({ type: 'rewindClip', sourceId })}><BackwardStepSolid class="size-5" /></Button
	>
	<Button
		size="sm"
		look={clip.playing ? 'plain' : 'main'}
		onpress={() => session.do({ type: clip.playing ? 'pauseClip' : 'playClip', sourceId })}
	>
		<span class="flex items-center gap-1">
			{#if clip.playing}<PauseSolid class="size-5" />{words.pause}{:else}<PlaySolid class="size-5" />{words.play}{/if}
		</span>
	</Button>
	<Button
		size="sm"
		aria-label={words.back}
		hint={words.back}
		disabled={clip.playing}
		onpress={() => seek(clip.positionMs - frameMs)}><ChevronLeftOutline class="size-5" /></Button
	>
	<Button
		size="sm"
		aria-label={words.forward}
		hint={words.forward}
		disabled={clip.playing}
		onpress={() => seek(clip.positionMs + frameMs)}><ChevronRightOutline class="size-5" /></Button
	>
	<span class="figures ml-auto text-sm">{clockOf(clip.positionMs / 1000)} / {clockOf(clip.lengthMs / 1000)}</span>
	<Range
		class="w-full"
		min="0"
		max={clip.lengthMs}
		step={frameMs}
		value={clip.positionMs}
		aria-label={words.position(source.name)}
		aria-valuetext={clockOf(clip.positionMs / 1000)}
		onchange={({ currentTarget }) => seek(currentTarget.valueAsNumber)}
	/>
</div>
