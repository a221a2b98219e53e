<script lang="ts">
	/** How the line check stands, in a line on the desk before the evening. */
	import { onMount } from 'svelte';
	import { tally } from '../../core/line-check/line-check.ts';
	import { useSession } from '../show/context.ts';
	import { check as words } from '../words/index.ts';

	const session = useSession();
	onMount(() => session.show.wantCheck());
	const counts = $derived(session.show.check && tally(session.show.check));
	const text = $derived.by(() => {
		if (!counts) return words.card;
		if (counts.wrong > 0) return words.wrong(counts.wrong);
		if (counts.weak > 0) return words.weak(counts.weak);
		return counts.unseen > 0 ? words.unseen(counts.unseen) : words.ready;
	});
	const edge = $derived(!counts || counts.unseen > 0 ? 'border-dashed border-gray-500' : 'border-moss');
</script>

<a
	class="block min-h-6 truncate border-l-4 px-2 text-sm underline {counts?.wrong
		? 'border-air'
		: counts?.weak
			? 'border-lamp'
			: edge}"
	href="/events/{session.eventId}/check"
	target="_blank"
	rel="noreferrer"
	aria-label="{words.toCheck}: {text}">{counts ? `${words.card}: ${text}` : text}</a
>
