<script lang="ts">
	/** Makes an event: from a template by one short form, like another one, or from nothing. */
	import { Card, Helper, Input, Label, Select, Textarea } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import type { Answers, Asks } from '../../core/show/templates/template.ts';
	import Button from '../ui/Button.svelte';
	import NumberField from '../ui/NumberField.svelte';
	import { TEXTAREA } from '../ui/theme.ts';
	import Warning from '../ui/Warning.svelte';
	import { plan as words } from '../words/index.ts';
	import { FRAME_RATES, pictureOf, SIZES } from './pictures.ts';
	import type { Rhythm } from './repeats.ts';
	import type { EventShelf, From } from './shelf.svelte.ts';
	import { goto } from '$app/navigation';

	interface Line {
		id: string;
		title: string;
		startsAt: string;
	}
	export interface TemplateChoice {
		id: string;
		name: string;
		asks: Asks;
		fields: { id: string; name: string; value: string }[];
		startsAt: string;
		hostTitle: string;
		hostDescription: string;
	}
	interface Props {
		shelf: EventShelf;
		templates: readonly TemplateChoice[];
		events: readonly Line[];
		/** What the form begins with, such as `event lantern-night`. */
		from?: string;
	}
	let { shelf, templates, events, from = $bindable('') }: Props = $props();

	const EMPTY = 'empty';
	const chosen = $derived(from || (templates[0] ? `template ${templates[0].id}` : EMPTY));
	const sources = $derived([
		...templates.map(({ id, name }) => ({ value: `template ${id}`, name: words.fromTemplate(name) })),
		...events.map(({ id, title }) => ({ value: `event ${id}`, name: words.likeEvent(title) })),
		{ value: EMPTY, name: words.fromNothing },
	]);
	const template = $derived(templates.find(({ id }) => chosen === `template ${id}`) ?? null);
	const copied = $derived(events.find(({ id }) => chosen === `event ${id}`) ?? null);

	const asksTitle = $derived(template?.asks.title ?? true);
	const asksStart = $derived(template?.asks.start ?? true);

	let title = $state('');
	let startsAt = $state('');
	let size = $state('1280x720');
	let fps = $state('30');
	/** By field; what nobody has touched is as the template has it. */
	let values = $state<Record<string, string>>({});
	let hostTitle = $state('');
	let hostDescription = $state('');
	let rhythm = $state<Rhythm | ''>('');
	let count = $state(6);
	let busy = $state(false);

	const rhythms = $derived([
		{ value: '', name: words.once },
		...Object.entries(words.rhythms).map(([value, name]) => ({ value, name })),
	]);
	let repeats = $state.raw<string[]>([]);
	$effect(() => {
		const [first, how, often] = [startsAt, rhythm, count];
		repeats = [];
		if (!asksStart || how === '' || first === '') return;
		// Most people need it never.
		void import('./repeats.ts').then(({ repeatsOf }) => (repeats = repeatsOf(first, how, often)));
	});
	const dayOf = (local: string) =>
		new Intl.DateTimeFormat('en-GB', { weekday: 'short', day: 'numeric', month: 'short', timeZone: 'UTC' }).format(
			new Date(`${local}:00Z`),
		);

	async function make(event: SubmitEvent) {
		event.preventDefault();
		busy = true;
		const ids = await shelf.make(fromOf(), answersOf(), repeats);
		const id = ids?.[0] ?? null;
		busy = false;
		if (id !== null) await goto(`/events/${id}/prepare`);
	}
	function fromOf(): From {
		if (template) return { is: 'template', id: template.id };
		if (copied) return { is: 'event', id: copied.id };
		return { is: 'nothing', picture: pictureOf(size, fps) };
	}
	function answersOf(): Answers {
		const asked = template?.asks.fields ?? [];
		return {
			title: asksTitle ? title.trim() : template!.name,
			startsAt: asksStart ? startsAt : '',
			timeZone: Intl.DateTimeFormat().resolvedOptions().timeZone,
			...(template?.asks.hostTexts && { hostTitle, hostDescription }),
			fields: Object.fromEntries(Object.entries(values).filter(([id]) => asked.includes(id))),
		};
	}
</script>

<Card class="max-w-none self-start p-5">
	<form class="grid content-start gap-4" onsubmit={make} aria-labelledby="new-event">
		<h2 id="new-event" class="text-xl font-semibold">{words.newEvent}</h2>
		{#if sources.length > 1}
			<Label>
				{words.madeFrom}
				<Select
					items={sources}
					value={chosen}
					onchange={(event) => (from = event.currentTarget.value)}
					class="mt-1"
					placeholder=""
				/>
			</Label>
		{/if}
		{#if asksTitle}
			<Label>
				{words.name}
				<Input
					bind:value={title}
					required
					maxlength={MOST_NAME_LETTERS}
					class="mt-1"
					placeholder={template?.name ?? words.lanternNight}
				/>
			</Label>
		{/if}
		{#if asksStart}
			<Label>
				{words.starts}
				<Input type="datetime-local" bind:value={startsAt} class="mt-1" />
			</Label>
		{/if}
		{#if template}
			{#each template.fields.filter(({ id }) => template.asks.fields.includes(id)) as field (field.id)}
				<Label>
					{field.name}
					<Input
						bind:value={() => values[field.id] ?? '', (typed) => (values[field.id] = typed)}
						placeholder={field.value === '' ? '' : words.lastTime(field.value)}
						class="mt-1"
					/>
				</Label>
			{/each}
			{#if template.asks.hostTexts}
				<Label>{words.hostTitle}<Input bind:value={hostTitle} placeholder={template.hostTitle} class="mt-1" /></Label>
				<Label>{words.hostDescription}<Textarea bind:value={hostDescription} rows={3} class="{TEXTAREA} mt-1" /></Label>
			{/if}
		{:else if !copied}
			<Label>
				{words.picture}
				<Select items={SIZES} bind:value={size} class="mt-1" placeholder="" />
			</Label>
			<Label>
				{words.frameRate}
				<Select items={FRAME_RATES} bind:value={fps} class="mt-1" placeholder="" />
				<Helper class="mt-1">{words.n30SuitsPeopleTalks50}</Helper>
			</Label>
		{/if}
		{#if asksStart && (template || copied)}
			<Label>
				{words.howOften}
				<Select items={rhythms} bind:value={rhythm} class="mt-1" placeholder="" />
			</Label>
			{#if rhythm !== ''}
				<NumberField label={words.howMany} min={2} max={53} value={count} onchange={(many) => (count = many)} />
				{#if startsAt === ''}
					<Helper>{words.repeatNeedsStart}</Helper>
				{:else}
					<p class="text-sm text-gray-600" role="status">{[startsAt, ...repeats].map(dayOf).join(' · ')}</p>
				{/if}
			{/if}
		{/if}
		{#if shelf.problem}<Warning urgent>{shelf.problem}</Warning>{/if}
		<Button look="main" type="submit" disabled={busy}
			>{repeats.length > 0 ? words.makeEvents(repeats.length + 1) : words.makeEvent}</Button
		>
	</form>
</Card>
