<script lang="ts">
	/** Says something to the crew: a prepared message by one press, or a typed one; with what was said last. */
	import { Input } from 'flowbite-svelte';
	import { CREW_PAGES, type CrewMessage, type CrewTo } from '../../core/show/crew/crew.ts';
	import { camerasOf } from '../../core/show/tally/tally.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import { crew as words } from '../words/index.ts';

	interface Props {
		/** As whoever writes here is called. */
		from: string;
		/** True where one writes to nobody in particular. */
		toAll?: boolean;
	}
	let { from, toAll = false }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);
	const LAST = 4;

	let text = $state('');
	let to = $state('all');
	const cameras = $derived(camerasOf(show.setup));
	const choices = $derived<Choice<string>[]>([
		['all', words.toAll],
		...CREW_PAGES.map((page): Choice<string> => [page, words.toPages[page]]),
		...cameras.map(({ id, name }): Choice<string> => [`camera:${id}`, name]),
	]);
	function meant(): CrewTo {
		if (to.startsWith('camera:')) return { is: 'camera', sourceId: to.slice('camera:'.length) };
		const page = CREW_PAGES.find((each) => each === to);
		return page ? { is: 'pages', page } : { is: 'all' };
	}
	function send(said: string) {
		if (said.trim() === '') return;
		if (session.do({ type: 'sendCrew', messageId: newId(), text: said.trim(), to: meant(), from })) text = '';
	}
	const prepared = $derived(show.setup.prepared.length > 0 ? show.setup.prepared : words.prepared);
	const last = $derived(show.live.crew.slice(-LAST).toReversed());
	function addressee({ to: each }: CrewMessage): string {
		if (each.is === 'all') return words.toAll;
		if (each.is === 'pages') return words.toPages[each.page];
		return show.setup.sources.find(({ id }) => id === each.sourceId)?.name ?? '';
	}
</script>

<section class="grid gap-2" aria-label={words.messages}>
	{#if !toAll}
		<div class="flex items-center gap-2">
			<span class="text-sm">{words.to}</span>
			<ChoiceField label={words.to} value={to} {choices} onchange={(value) => (to = value)} class="flex-1" />
		</div>
	{/if}
	<div class="flex flex-wrap gap-1">
		{#each prepared as each, i (i)}
			<Button size="touch" onpress={() => send(each)}>{each}</Button>
		{/each}
	</div>
	<form
		class="flex gap-2"
		onsubmit={(event) => {
			event.preventDefault();
			send(text);
		}}
	>
		<Input bind:value={text} maxlength={160} placeholder={words.say} aria-label={words.say} />
		<Button type="submit" size="touch" disabled={text.trim() === ''}>{words.send}</Button>
	</form>
	<ul class="grid gap-1 text-sm" aria-label={words.messages}>
		{#each last as message (message.id)}
			<li>
				<strong>{message.from}</strong> → {addressee(message)}: {message.text}
				<span class="text-gray-300"
					>{message.seenBy.length > 0 ? words.seenBy(message.seenBy.join(', ')) : words.notSeen}</span
				>
			</li>
		{:else}
			<li class="text-gray-300">{words.nothingYet}</li>
		{/each}
	</ul>
</section>
