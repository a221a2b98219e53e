<script lang="ts">
	/** A panel as it is composed: its pages, and the buttons of one of them in the order in which they stand. */
	import { Checkbox, Input, Label, Toggle } from 'flowbite-svelte';
	import { subjectOf } from '../../core/show/actions/actions.ts';
	import {
		BUTTON_COLOURS,
		BUTTON_ICONS,
		MOST_BUTTONS,
		MOST_PANEL_PAGES,
		plainButton,
		type Panel,
		type PanelButton,
		type PanelPage,
	} from '../../core/show/panels/panel.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import NameField from '../ui/NameField.svelte';
	import NumberField from '../ui/NumberField.svelte';
	import { sorted } from '../ui/sorted.ts';
	import { orderLabel, panelEditor as words } from '../words/index.ts';
	import OrderFields from './OrderFields.svelte';

	interface Props {
		panel: Panel;
		onchange: (panel: Panel) => void;
		onremove: () => void;
	}
	let { panel, onchange, onremove }: Props = $props();
	const session = useSession();

	let pageAt = $state(0);
	const page = $derived(panel.pages[Math.min(pageAt, panel.pages.length - 1)]!);
	const at = $derived(panel.pages.indexOf(page));
	let chosenId = $state<string | null>(null);
	const chosen = $derived(page.buttons.find(({ id }) => id === chosenId) ?? null);

	const change = (part: Partial<Panel>) => onchange({ ...panel, ...part });
	const changePage = (part: Partial<PanelPage>) => change({ pages: panel.pages.with(at, { ...page, ...part }) });
	const setButton = (button: PanelButton, part: Partial<PanelButton>) =>
		changePage({ buttons: page.buttons.map((each) => (each.id === button.id ? { ...each, ...part } : each)) });
	/** A name that no other page has. */
	function freeName(): string {
		for (let number = panel.pages.length + 1; ; number++)
			if (!panel.pages.some(({ name }) => name === words.pageName(number))) return words.pageName(number);
	}
	function addPage() {
		change({ pages: [...panel.pages, { name: freeName(), buttons: [] }] });
		pageAt = panel.pages.length;
	}
	function removePage() {
		change({ pages: panel.pages.toSpliced(at, 1) });
		pageAt = Math.max(0, at - 1);
	}
	function addButton() {
		const button = plainButton(newId(), { action: 'take' });
		changePage({ buttons: [...page.buttons, button] });
		chosenId = button.id;
	}
	const labelOf = ({ label, press, hold, double }: PanelButton) => {
		const order = press ?? hold ?? double;
		return label || (order ? orderLabel(order, subjectOf(session.state, order)) : '…');
	};
	function moveButton(from: number, to: number) {
		changePage({ buttons: page.buttons.toSpliced(from, 1).toSpliced(to, 0, page.buttons[from]!) });
	}

	const dragged = sorted(moveButton, { draggable: '[data-button]' });
	const icons: Choice<string>[] = [
		['', words.noIcon],
		...BUTTON_ICONS.map((icon): Choice<string> => [icon, words.icons[icon]]),
	];
	const colours = BUTTON_COLOURS.map((colour): Choice<(typeof BUTTON_COLOURS)[number]> => [
		colour,
		words.colours[colour],
	]);
	const GESTURES = ['press', 'hold', 'double'] as const;
</script>

<section class="grid content-start gap-3" aria-label={panel.name}>
	<div class="flex flex-wrap items-center gap-2">
		<NameField label={words.name} value={panel.name} onchange={(name) => change({ name })} class="flex-1" />
		<Button href="/events/{session.eventId}/panel/{panel.id}" target="_blank" hint={words.openHint}>{words.open}</Button
		>
		<Button onclick={onremove}>{words.remove}</Button>
	</div>
	<div class="flex flex-wrap items-center gap-4">
		<NumberField
			label={words.columns}
			min={2}
			max={10}
			value={panel.columns}
			onchange={(columns) => change({ columns: Math.round(columns) })}
		/>
		<Toggle checked={panel.vibrates} onchange={({ currentTarget }) => change({ vibrates: currentTarget.checked })}
			>{words.vibrates}</Toggle
		>
	</div>
	<div class="flex flex-wrap items-center gap-1" role="group" aria-label={words.pageNames}>
		{#each panel.pages as { name }, i (i)}
			<Button
				size="sm"
				aria-pressed={i === at}
				lit="edge"
				class={i === at ? 'border-2 border-ink' : ''}
				onclick={() => (pageAt = i)}>{name}</Button
			>
		{/each}
		<Button size="sm" disabled={panel.pages.length >= MOST_PANEL_PAGES} onclick={addPage}>+ {words.newPage}</Button>
	</div>
	<div class="flex flex-wrap items-center gap-2">
		<NameField
			label={words.pageNames}
			value={page.name}
			onchange={(name) => !panel.pages.some((each) => each.name === name) && changePage({ name })}
		/>
		<Button size="sm" disabled={panel.pages.length === 1} onclick={removePage}>{words.removePage}</Button>
	</div>
	<p class="text-sm text-gray-600">{words.dragHint}</p>
	<div
		class="grid auto-rows-[minmax(3.5rem,auto)] gap-1 rounded-sm bg-ink p-2"
		style:grid-template-columns="repeat({panel.columns}, minmax(0, 1fr))"
		{@attach dragged}
	>
		{#each page.buttons as button (button.id)}
			<div
				data-button={button.id}
				style:grid-column="span {Math.min(button.width, panel.columns)}"
				style:grid-row="span {button.height}"
			>
				<Button
					look="bare"
					class="size-full cursor-grab rounded-sm border-2 bg-gray-700 p-1 text-left text-sm font-semibold text-paper {button.id ===
					chosenId
						? 'border-lamp'
						: 'border-slate-rule'}"
					aria-pressed={button.id === chosenId}
					onclick={() => (chosenId = button.id)}>{labelOf(button)}</Button
				>
			</div>
		{:else}
			<p class="col-span-full p-2 text-gray-300">{words.nothing}</p>
		{/each}
	</div>
	<Button disabled={page.buttons.length >= MOST_BUTTONS} onclick={addButton}>+ {words.newButton}</Button>
	{#if chosen}
		{@const place = page.buttons.indexOf(chosen)}
		<section class="grid gap-3 rounded-sm border border-gray-400 p-3" aria-label={words.button}>
			<div class="flex flex-wrap items-center gap-2">
				<h3 class="flex-1 font-semibold">{labelOf(chosen)}</h3>
				<Button size="xs" disabled={place === 0} onclick={() => moveButton(place, place - 1)}>{words.earlier}</Button>
				<Button size="xs" disabled={place === page.buttons.length - 1} onclick={() => moveButton(place, place + 1)}
					>{words.later}</Button
				>
				<Button size="xs" onclick={() => changePage({ buttons: page.buttons.toSpliced(place, 1) })}
					>{words.remove}</Button
				>
			</div>
			<div class="grid gap-3 sm:grid-cols-3">
				{#each GESTURES as gesture (gesture)}
					<OrderFields
						label={words[gesture]}
						order={chosen[gesture]}
						none={words.doesNothing}
						onchange={(order) => setButton(chosen, { [gesture]: order })}
					/>
				{/each}
			</div>
			<Label>
				{words.buttonLabel}
				<Input
					class="mt-1"
					size="sm"
					maxlength={60}
					placeholder={words.buttonLabelHint}
					value={chosen.label}
					onchange={({ currentTarget }: Event & { currentTarget: HTMLInputElement }) =>
						setButton(chosen, { label: currentTarget.value.trim() })}
				/>
			</Label>
			<div class="flex flex-wrap items-center gap-3">
				<NumberField
					label={words.width}
					min={1}
					max={4}
					value={chosen.width}
					onchange={(width) => setButton(chosen, { width: Math.round(width) })}
				/>
				<NumberField
					label={words.height}
					min={1}
					max={4}
					value={chosen.height}
					onchange={(height) => setButton(chosen, { height: Math.round(height) })}
				/>
				<ChoiceField
					label={words.icon}
					value={chosen.icon ?? ''}
					choices={icons}
					onchange={(icon) => setButton(chosen, { icon: BUTTON_ICONS.find((each) => each === icon) ?? null })}
				/>
				<ChoiceField
					label={words.colour}
					value={chosen.colour}
					choices={colours}
					onchange={(colour) => setButton(chosen, { colour })}
				/>
				<Checkbox checked={chosen.picture} onchange={() => setButton(chosen, { picture: !chosen.picture })}
					>{words.picture}</Checkbox
				>
			</div>
		</section>
	{/if}
</section>
