<script lang="ts">
	/** Where one is among the pages of an event, and the way to the others. */
	import { mayUse } from '../../core/access/policy.ts';
	import { guideWords, ui as words } from '../words/index.ts';
	import { page as shown } from '$app/state';

	interface Props {
		eventId: string;
		here: 'prepare' | 'check' | 'desk' | 'mix' | 'words' | 'panels' | 'sheet' | 'recordings' | 'report';
		/** Dark, in a bar of its own with the event's title before it. */
		title?: string;
		/** Opens the others beside this page, which must not be left. */
		beside?: boolean;
	}
	let { eventId, here, title, beside = false }: Props = $props();

	const base = $derived(`/events/${eventId}`);
	const all = [
		['prepare', words.prepare, '/prepare'],
		['check', words.check, '/check'],
		['desk', words.desk, ''],
		['mix', words.mix, '/mix'],
		['words', words.words, '/words'],
		['panels', words.panels, '/panels'],
		['sheet', words.sheet, '/sheet'],
		['recordings', words.recordings, '/recordings'],
		['report', words.report, '/report'],
	] as const;
	/** What the guide says of each. */
	const GUIDE: Record<Props['here'], string> = {
		...{ prepare: 'first-event', check: 'first-event', desk: 'start-by-itself', mix: 'sound', words: 'words' },
		...{ panels: 'went-wrong', sheet: 'start-by-itself', recordings: 'went-wrong', report: 'went-wrong' },
	};
	/** Those that whoever looks may open. */
	const pages = $derived(
		all
			.filter(([, , path]) => mayUse(shown.data.role ?? null, `/events/[id]${path}`, 'GET'))
			.map(([name, title, path]) => [name, title, base + path] as const),
	);
</script>

<nav
	class="flex min-w-0 items-center gap-x-3 gap-y-1 text-sm {title === undefined ? '' : 'flex-wrap'}"
	aria-label={words.pagesOfEvent}
>
	{#if title !== undefined}
		<a class="font-semibold underline" href="/">{words.allEvents}</a>
		<span aria-hidden="true">›</span>
		<strong class="max-w-64 truncate">{title}</strong>
		<span aria-hidden="true">›</span>
	{/if}
	<ul class="flex flex-wrap gap-x-3">
		{#each pages as [page, name, href] (page)}
			<li>
				<a
					class="inline-block min-w-6 leading-6 {page === here ? 'font-bold no-underline' : 'underline'}"
					{href}
					aria-current={page === here ? 'page' : undefined}
					target={beside && page !== here ? '_blank' : undefined}
					rel={beside && page !== here ? 'noreferrer' : undefined}>{name}</a
				>
			</li>
		{/each}
		<li>
			<a class="inline-block min-w-6 leading-6 underline" href="/guide/{GUIDE[here]}" target="_blank" rel="noreferrer"
				>{guideWords.help}</a
			>
		</li>
	</ul>
</nav>
