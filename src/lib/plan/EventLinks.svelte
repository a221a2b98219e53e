<script lang="ts">
	/** The ways into an event, as far as whoever looks may go them. */
	import { mayUse } from '../../core/access/policy.ts';
	import type { AnyRole } from '../../core/access/roles.ts';
	import Button from '../ui/Button.svelte';
	import { plan as words, ui } from '../words/index.ts';

	interface Props {
		event: { id: string; role: AnyRole | null };
		/** What one does with it: prepares and makes it, or looks back. */
		which: 'coming' | 'past';
		/** The rest is behind a press. */
		more?: boolean;
	}
	let { event, which, more = false }: Props = $props();

	const COMING = [
		['', words.openDesk],
		['/prepare', words.prepare],
		['/check', ui.check],
		['/mix', words.mix],
		['/words', ui.words],
		['/panel/event', ui.panel],
		['/tally', ui.tally],
		['/sheet', words.sheet],
		['/hall', ui.hall],
		['/stage', ui.stage],
	] as const;
	const PAST = [
		['/recordings', words.recordings],
		['/report', ui.report],
		['/prepare', words.prepare],
	] as const;
	/** So many of them are in sight at once. */
	const FIRST = 3;
	const pages = $derived(
		(which === 'past' ? PAST : COMING).filter(([path]) =>
			mayUse(event.role, `/events/[id]${path.replace('/event', '/[panel]')}`, 'GET'),
		),
	);
	let open = $state(false);
	const shown = $derived(more && !open ? pages.slice(0, FIRST) : pages);
</script>

<div class="flex flex-wrap gap-2">
	{#each shown as [path, name], i (path)}
		<Button look={i === 0 && which === 'coming' ? 'main' : 'plain'} size="touch" href="/events/{event.id}{path}"
			>{name}</Button
		>
	{/each}
	{#if shown.length < pages.length}
		<Button size="touch" onclick={() => (open = true)}>{words.otherPages}</Button>
	{/if}
</div>
