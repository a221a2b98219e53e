<script lang="ts">
	/** Surfaces of this machine: which are in use, what their controls do, and learning by touch. */
	import { Toggle } from 'flowbite-svelte';
	import { onMount } from 'svelte';
	import * as v from 'valibot';
	import { subjectOf } from '../../core/show/actions/actions.ts';
	import type { Order } from '../../core/show/actions/order.ts';
	import { GROUPS, type Group } from '../../core/show/mix/mix.ts';
	import { controlKey, type Control } from '../../core/surface/midi.ts';
	import { surfaceProfileSchema, type Assignment } from '../../core/surface/profile.ts';
	import OrderFields from '../panel/OrderFields.svelte';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesAmong, type Choice } from '../ui/choices.ts';
	import FileButton from '../ui/FileButton.svelte';
	import { saveFile } from '../ui/save.ts';
	import Warning from '../ui/Warning.svelte';
	import { orderLabel, panelEditor, surface as words } from '../words/index.ts';
	import { canConnect, isAllowed } from './ports.ts';
	import { Surfaces } from './surfaces.svelte.ts';

	const session = useSession();
	const surfaces = new Surfaces(session, words.title);
	onMount(() => {
		void isAllowed().then((allowed) => {
			if (allowed) void surfaces.connect();
		});
		return () => surfaces.close();
	});
	const { setup } = $derived(session.state);
	$effect(() => {
		void session.show.state;
		surfaces.show();
	});

	let kind = $state<Assignment['does']['is']>('order');
	let order = $state.raw<Order>({ action: 'take' });
	let channelId = $state('');
	let group = $state<Group>('speech');
	let motor = $state(false);
	let problem = $state('');
	const kinds = $derived<Choice<Assignment['does']['is']>[]>([
		['order', words.doesOrder],
		['fader', words.doesFader, setup.channels.length > 0],
		['group', words.doesGroup],
	]);
	const channel = $derived(
		setup.channels.some(({ id }) => id === channelId) ? channelId : (setup.channels[0]?.id ?? ''),
	);
	const groups = GROUPS.map((each): Choice<Group> => [each, panelEditor.groups[each]]);
	const nameOf = ({ is, number, channel: of }: Control) => words.control[is](number, of + 1);
	function doesOf({ does }: Assignment): string {
		if (does.is === 'group') return words.faderOf(panelEditor.groups[does.group]);
		if (does.is === 'fader')
			return words.faderOf(setup.channels.find(({ id }) => id === does.channelId)?.name ?? panelEditor.isGone);
		return orderLabel(does.order, subjectOf(session.state, does.order));
	}
	function give() {
		const { touched } = surfaces;
		if (!touched) return;
		const does: Assignment['does'] =
			kind === 'order'
				? { is: kind, order }
				: kind === 'fader'
					? { is: kind, channelId: channel }
					: { is: kind, group };
		surfaces.assign(touched.name, touched.control, does, kind !== 'order' && motor);
	}
	async function read(file: File | undefined) {
		const json = await file
			?.text()
			.then(
				(text) => JSON.parse(text) as unknown,
				() => null,
			)
			.catch(() => null);
		const profile = v.safeParse(surfaceProfileSchema, json);
		problem = profile.success ? '' : words.unreadable;
		if (profile.success) session.do({ type: 'putSurface', profile: profile.output });
	}
</script>

<section class="grid content-start gap-3" aria-label={words.title}>
	<h2 class="text-lg font-semibold">{words.title}</h2>
	<p class="text-gray-600">{words.about}</p>
	<div class="flex flex-wrap gap-2">
		<Button disabled={!canConnect()} onclick={() => void surfaces.connect()}>{words.connect}</Button>
		<Button href="/events/{session.eventId}/surface" target="_blank">{words.openDrawn}</Button>
		<FileButton label={words.importOne} accept=".json,application/json" onchoose={(files) => void read(files[0])} />
	</div>
	{#if !canConnect()}<Warning>{words.cannot}</Warning>{/if}
	{#if surfaces.refused}<Warning urgent>{words.refused}</Warning>{/if}
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	<p role="status">
		{surfaces.names.length > 0 ? words.used(surfaces.names.join(', ')) : words.usedElsewhere}
		{#if surfaces.waits}<strong>{words.waits[surfaces.waits.way]}</strong>{/if}
	</p>
	{#if surfaces.touched}
		<div
			class="grid gap-2 rounded-sm border-2 border-primary-700 p-3"
			role="group"
			aria-label={words.touched(nameOf(surfaces.touched.control))}
		>
			<strong>{words.touched(nameOf(surfaces.touched.control))}</strong>
			<ChoiceField label={words.assigned} value={kind} choices={kinds} onchange={(value) => (kind = value)} />
			{#if kind === 'order'}
				<OrderFields label={words.doesOrder} {order} onchange={(value) => value && (order = value)} />
			{:else if kind === 'fader'}
				<ChoiceField
					label={words.doesFader}
					value={channel}
					choices={choicesAmong(setup.channels)}
					onchange={(value) => (channelId = value)}
				/>
			{:else}
				<ChoiceField label={words.doesGroup} value={group} choices={groups} onchange={(value) => (group = value)} />
			{/if}
			{#if kind !== 'order'}<Toggle bind:checked={motor}>{words.motor}</Toggle>{/if}
			<div class="flex gap-2">
				<Button look="main" onclick={give}>{words.give}</Button>
				<Button onclick={() => (surfaces.touched = null)}>{words.forget}</Button>
			</div>
		</div>
	{:else}
		<p>{words.touch}</p>
	{/if}
	{#each setup.surfaces as profile (profile.name)}
		<section class="grid gap-1" aria-label={profile.name}>
			<div class="flex items-center gap-2">
				<h3 class="flex-1 font-semibold">{profile.name}</h3>
				<Button
					size="sm"
					onclick={() => saveFile(`${profile.name}.json`, JSON.stringify(profile, null, '\t'), 'application/json')}
					>{words.exportOne}</Button
				>
				<Button
					size="sm"
					onclick={() =>
						session.doWithUndo({ type: 'removeSurface', name: profile.name }, panelEditor.removed(profile.name))}
					>{words.remove}</Button
				>
			</div>
			<ul class="grid gap-1">
				{#each profile.assignments as assignment (controlKey(assignment.control))}
					<li class="flex items-center gap-2 rounded-sm border border-gray-300 px-2 py-1">
						<span class="w-48 text-sm text-gray-600">{nameOf(assignment.control)}</span>
						<span class="flex-1">{doesOf(assignment)}</span>
						<Button size="xs" onclick={() => surfaces.assign(profile.name, assignment.control, null)}
							>{words.remove}</Button
						>
					</li>
				{:else}
					<li class="text-gray-600">{words.nothing}</li>
				{/each}
			</ul>
		</section>
	{/each}
</section>
