<script lang="ts">
	/** Where panels and macros are made, and the messages that the crew has at hand. */
	import { Textarea } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import * as v from 'valibot';
	import type { PageCommand, SingleCommand } from '../../core/show/command.ts';
	import { crewTextSchema, MOST_PREPARED } from '../../core/show/crew/crew.ts';
	import { EVERYTHING_OFF, type Macro } from '../../core/show/macros/macro.ts';
	import { OWN_PANEL, ownPanel } from '../../core/show/panels/own-panel.ts';
	import type { Panel } from '../../core/show/panels/panel.ts';
	import { provideSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import SurfaceFields from '../surface/SurfaceFields.svelte';
	import Button from '../ui/Button.svelte';
	import EventNav from '../ui/EventNav.svelte';
	import { TEXTAREA } from '../ui/theme.ts';
	import {
		crew as crewWords,
		macroName,
		panelEditor as words,
		panels as panelWords,
		surface as surfaceWords,
	} from '../words/index.ts';
	import MacroEditor from './MacroEditor.svelte';
	import PanelEditor from './PanelEditor.svelte';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();
	const session = provideSession(new ShowSession(untrack(() => eventId)));
	onMount(() => () => session.close());
	const show = $derived(session.show.state);

	type Chosen = { is: 'panel' | 'macro'; id: string } | { is: 'prepared' } | { is: 'surface' } | null;
	let chosen = $state.raw<Chosen>(null);
	const panel = $derived(
		chosen?.is === 'panel'
			? (show?.setup.panels.find(({ id }) => chosen?.is === 'panel' && id === chosen.id) ?? null)
			: null,
	);
	const macro = $derived(
		chosen?.is === 'macro'
			? (show?.setup.macros.find(({ id }) => chosen?.is === 'macro' && id === chosen.id) ?? null)
			: null,
	);

	/** Ways back of what was changed here, the newest last. */
	let steps: (readonly SingleCommand[])[] = $state.raw([]);
	function does(command: PageCommand) {
		const inverse = session.show.send(command);
		if (inverse?.length) steps = [...steps, inverse].slice(-50);
		return inverse !== null;
	}
	function undo() {
		const last = steps.at(-1);
		if (!last) return;
		steps = steps.slice(0, -1);
		session.undo(last);
	}

	function addPanel(made: Omit<Panel, 'id'>) {
		const id = newId();
		if (does({ type: 'addPanel', panel: { ...made, id } })) chosen = { is: 'panel', id };
	}
	function addMacro() {
		const id = newId();
		const name = `${words.newMacroName} ${(show?.setup.macros.length ?? 0) + 1}`;
		const made: Macro = { id, name, asks: false, again: 'stop', steps: [] };
		if (does({ type: 'addMacro', macro: made })) chosen = { is: 'macro', id };
	}
	function setPrepared(text: string) {
		const texts = text
			.split('\n')
			.map((line) => line.trim())
			.filter((line) => v.is(crewTextSchema, line))
			.slice(0, MOST_PREPARED);
		does({ type: 'setPrepared', texts });
	}
	const item = (isChosen: boolean) =>
		`min-h-11 w-full rounded-sm border border-l-8 px-3 py-2 text-left hover:bg-gray-100 ${
			isChosen ? 'border-gray-500 border-l-primary-700 bg-gray-100' : 'border-gray-300'
		}`;
</script>

{#if show}
	<main class="mx-auto grid max-w-7xl gap-4 p-4 sm:p-8">
		<EventNav {eventId} here="panels" title={show.setup.title} />
		<header class="flex flex-wrap items-end gap-3">
			<div class="flex-1">
				<h1 class="text-3xl font-bold">{words.title}</h1>
				<p class="mt-1 text-gray-600">{words.about}</p>
			</div>
			<Button disabled={steps.length === 0} onclick={undo}>{words.undo}</Button>
		</header>
		<div class="grid gap-6 md:grid-cols-[18rem_minmax(0,1fr)]">
			<div class="grid content-start gap-4">
				<nav class="grid gap-1" aria-label={words.panels}>
					<h2 class="text-lg font-semibold">{words.panels}</h2>
					<div class="grid gap-1 rounded-sm border border-gray-300 p-2">
						<strong>{words.own}</strong>
						<p class="text-sm text-gray-600">{words.ownHint}</p>
						<div class="flex flex-wrap gap-1">
							<Button size="sm" href="/events/{eventId}/panel/{OWN_PANEL}" target="_blank" hint={words.openHint}
								>{words.open}</Button
							>
							<Button
								size="sm"
								onclick={() => addPanel({ ...ownPanel(show.setup, panelWords.ownPages), name: show.setup.title })}
								>{words.copyOwn}</Button
							>
						</div>
					</div>
					{#each show.setup.panels as { id, name } (id)}
						<Button
							look="bare"
							class={item(chosen?.is === 'panel' && chosen.id === id)}
							aria-current={chosen?.is === 'panel' && chosen.id === id}
							onclick={() => (chosen = { is: 'panel', id })}>{name}</Button
						>
					{/each}
					<Button
						onclick={() =>
							addPanel({
								name: `${words.newPanelName} ${show.setup.panels.length + 1}`,
								columns: 3,
								vibrates: true,
								pages: [{ name: words.pageName(1), buttons: [] }],
							})}>+ {words.newPanel}</Button
					>
				</nav>
				<nav class="grid gap-1" aria-label={words.macros}>
					<h2 class="text-lg font-semibold">{words.macros}</h2>
					<p class="text-sm text-gray-600">{words.macrosHint}</p>
					<div class="grid gap-1 rounded-sm border border-gray-300 p-2">
						<strong
							>{macroName(EVERYTHING_OFF, '')}
							<span class="text-sm font-normal text-gray-600">({words.ships})</span></strong
						>
						<p class="text-sm text-gray-600">{words.everythingOffIs}</p>
					</div>
					{#each show.setup.macros as { id, name } (id)}
						<Button
							look="bare"
							class={item(chosen?.is === 'macro' && chosen.id === id)}
							aria-current={chosen?.is === 'macro' && chosen.id === id}
							onclick={() => (chosen = { is: 'macro', id })}>{name}</Button
						>
					{/each}
					<Button onclick={addMacro}>+ {words.newMacro}</Button>
				</nav>
				<Button
					look="bare"
					class={item(chosen?.is === 'prepared')}
					aria-current={chosen?.is === 'prepared'}
					onclick={() => (chosen = { is: 'prepared' })}>{words.prepared}</Button
				>
				<Button
					look="bare"
					class={item(chosen?.is === 'surface')}
					aria-current={chosen?.is === 'surface'}
					onclick={() => (chosen = { is: 'surface' })}>{surfaceWords.title}</Button
				>
			</div>
			{#if panel}
				{#key panel.id}
					<PanelEditor
						{panel}
						onchange={(changed) => does({ type: 'changePanel', panel: changed })}
						onremove={() => session.doWithUndo({ type: 'removePanel', panelId: panel.id }, words.removed(panel.name))}
					/>
				{/key}
			{:else if macro}
				{#key macro.id}
					<MacroEditor
						{macro}
						onchange={(changed) => does({ type: 'changeMacro', macro: changed })}
						onremove={() => session.doWithUndo({ type: 'removeMacro', macroId: macro.id }, words.removed(macro.name))}
					/>
				{/key}
			{:else if chosen?.is === 'surface'}
				<SurfaceFields />
			{:else if chosen?.is === 'prepared'}
				<section class="grid content-start gap-2" aria-label={words.prepared}>
					<h2 class="text-lg font-semibold">{words.prepared}</h2>
					<p class="text-sm text-gray-600">{words.preparedHint}</p>
					<Textarea
						class={TEXTAREA}
						rows={12}
						aria-label={words.prepared}
						value={(show.setup.prepared.length > 0 ? show.setup.prepared : crewWords.prepared).join('\n')}
						onchange={({ currentTarget }: Event & { currentTarget: HTMLTextAreaElement }) =>
							setPrepared(currentTarget.value)}
					/>
				</section>
			{:else}
				<p class="self-start rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">{words.choose}</p>
			{/if}
		</div>
	</main>
	<Notices />
{:else}
	<Opening what={words.page} gone={session.show.gone} />
{/if}
