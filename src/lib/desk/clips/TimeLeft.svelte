<script lang="ts">
	/** What is left of the clip that viewers see, upon its picture: large, and amber when it is time to leave. */
	import { clipOnAir } from '../../../core/show/clips/source.ts';
	import { useNow } from '../../show/now.svelte.ts';
	import { clips as words, clockOf } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	const session = useDesk();
	const time = useNow(session.show);
	const clip = $derived(clipOnAir(session.state, time.now));
</script>

{#if clip}
	<p
		class="pointer-events-none absolute inset-x-0 bottom-0 flex items-baseline justify-between gap-3 bg-ink/85 px-3 py-1"
		role="timer"
		aria-label={words.timeLeft}
	>
		<span class="truncate font-semibold">{clip.name}</span>
		{#if clip.leaveMs !== null}
			<span class="bg-lamp px-3 text-2xl font-bold whitespace-nowrap text-ink"
				>{words.leave(Math.ceil(clip.leaveMs / 1000))}</span
			>
		{:else if clip.leftMs !== null}
			<span class="figures text-3xl font-semibold whitespace-nowrap">{clockOf(Math.ceil(clip.leftMs / 1000))}</span>
		{:else}
			<span class="figures text-xl whitespace-nowrap">{clockOf(clip.positionMs / 1000)}</span>
		{/if}
	</p>
{/if}
