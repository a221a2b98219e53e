<script lang="ts">
	/** Hosts that the organisation signs in to, and this event planned at several of their places by one form. */
	import { Checkbox, Input, Label, Textarea } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { untrack } from 'svelte';
	import type { SignedPlace, SignInStep, SignInTold, SignInWay } from '../../../core/hosts/sign-in.ts';
	import type { Details } from '../../../core/show/delivery/destination.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import FileButton from '../../ui/FileButton.svelte';
	import { TEXTAREA } from '../../ui/theme.ts';
	import Warning from '../../ui/Warning.svelte';
	import { hosts as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import DetailsFields, { detailsAsWritten } from './DetailsFields.svelte';
	import { listFrom } from './list-from.ts';

	interface Props {
		/** Those that are known when it is shown. */
		first: readonly SignInTold[];
	}
	let { first }: Props = $props();

	const session = useDesk();
	/** While somebody signs in elsewhere, the server is asked so often. */
	const LOOK_MS = 1000;

	let known = $state.raw<readonly SignInTold[]>(untrack(() => first));
	let problem = $state('');
	let busy = $state(false);
	/** What somebody has to do next, and at which host. */
	let step = $state.raw<(SignInStep & { hostId: string }) | null>(null);
	let forgetting = $state('');
	/** The host whose places are chosen. */
	let chosen = $state.raw<{ host: SignInTold; places: SignedPlace[] } | null>(null);
	let ticked = $state<string[]>([]);
	let details = $state<Details>(untrack(() => detailsAsWritten(session.state)));
	let done = $state.raw<{ name: string; problem: string }[]>([]);
	let adds = $state(false);
	let profile = $state('');
	let clientId = $state('');
	let clientSecret = $state('');

	const isWaiting = $derived(known.some(({ state }) => state === 'waiting'));
	$effect(() => {
		if (!isWaiting) return;
		const timer = setInterval(() => void load(), LOOK_MS);
		return () => clearInterval(timer);
	});

	async function load() {
		known = (await listFrom<{ hosts: SignInTold[] }>('/api/hosts'))?.hosts ?? known;
		const host = known.find(({ id }) => id === step?.hostId);
		if (host && host.state !== 'waiting') {
			step = null;
			problem = host.problem;
		}
	}

	/** Asks the server; what goes wrong is said. */
	async function ask<T>(path: string, method: string, body: unknown): Promise<T | null> {
		busy = true;
		const result = await askServer<T>(path, method, body);
		busy = false;
		problem = 'problem' in result ? result.problem : '';
		return 'answer' in result ? result.answer : null;
	}

	async function signIn({ id }: SignInTold, way: SignInWay) {
		// Opened with the press: a browser opens nothing later on.
		const tab = way === 'browser' ? window.open('about:blank', '_blank') : null;
		const next = await ask<SignInStep>(`/api/hosts/${id}`, 'POST', { way });
		if (next?.way === 'browser' && tab) tab.location.href = next.url;
		else tab?.close();
		step = next && { ...next, hostId: id };
		await load();
	}

	async function forget({ id }: SignInTold) {
		if (forgetting !== id) {
			forgetting = id;
			return;
		}
		await ask(`/api/hosts/${id}`, 'DELETE', {});
		if (chosen?.host.id === id) chosen = null;
		await load();
	}

	async function choose(host: SignInTold) {
		done = [];
		busy = true;
		const response = await fetch(`/api/hosts/${host.id}/places`).catch(() => null);
		busy = false;
		const told = (await response?.json().catch(() => null)) as { places?: SignedPlace[]; message?: string } | null;
		problem = told?.places ? '' : (told?.message ?? words.noPlaces);
		if (told?.places) chosen = { host, places: told.places };
		ticked = [];
		await load();
	}

	const toggle = (id: string) =>
		(ticked = ticked.includes(id) ? ticked.filter((each) => each !== id) : [...ticked, id]);

	async function plan(event: SubmitEvent) {
		event.preventDefault();
		const path = `/api/events/${session.eventId}/destinations/signed`;
		const body = { hostId: chosen!.host.id, placeIds: ticked, details };
		const told = await ask<{ places: { name: string; problem: string }[] }>(path, 'POST', body);
		done = told?.places ?? [];
		if (told) ticked = [];
	}

	async function add(event: SubmitEvent) {
		event.preventDefault();
		let read: object;
		try {
			read = JSON.parse(profile) as object;
		} catch {
			problem = words.noJson;
			return;
		}
		const own = { ...(clientId.trim() !== '' && { clientId }), ...(clientSecret !== '' && { clientSecret }) };
		const made = await ask('/api/hosts', 'POST', { ...read, ...own });
		if (!made) return;
		profile = clientId = clientSecret = '';
		adds = false;
		await load();
	}
	const count = $derived(ticked.length === 1 ? words.onePlace : words.somePlaces(ticked.length));
</script>

<section class="grid gap-2" aria-labelledby="signed-hosts">
	<h3 id="signed-hosts" class="font-semibold">{words.heading}</h3>
	<p class="text-sm text-gray-600 dark:text-gray-300">{words.is}</p>
	<ul class="grid gap-1">
		{#each known as host (host.id)}
			<li class="flex flex-wrap items-center gap-2 rounded-sm border border-slate-rule p-2">
				<span class="min-w-0 flex-1">
					<span class="block truncate font-semibold">{host.name}</span>
					<span class="text-xs text-gray-600 dark:text-gray-300"
						>{host.state === 'signedIn' ? words.signedIn : words.notSignedIn}</span
					>
				</span>
				{#if host.state === 'signedIn'}
					<Button size="sm" disabled={busy} onclick={() => void choose(host)}>{words.choosePlaces(host.name)}</Button>
				{:else}
					{#if host.ways.includes('browser')}
						<Button size="sm" look="main" disabled={busy} onclick={() => void signIn(host, 'browser')}
							>{words.signIn(host.name)}</Button
						>
					{/if}
					{#if host.ways.includes('code')}
						<Button size="sm" disabled={busy} onclick={() => void signIn(host, 'code')}>{words.signInByCode}</Button>
					{/if}
				{/if}
				<Button
					class="flex items-center gap-1"
					size="sm"
					aria-label={words.forget(host.name)}
					onclick={() => void forget(host)}
				>
					<TrashBinOutline class="size-4" />{#if forgetting === host.id}{words.forgetSure}{/if}
				</Button>
				{#if step?.hostId === host.id}
					<div class="w-full text-sm" role="status">
						{#if step.way === 'code'}
							<p class="figures text-base font-semibold">{words.typeCode(step.code)}</p>
							<a class="underline" href={step.url} target="_blank" rel="noreferrer">{words.codePlace}</a>
						{:else}
							<p>{words.waits}</p>
							<a class="underline" href={step.url} target="_blank" rel="noreferrer">{words.openAgain}</a>
						{/if}
					</div>
				{/if}
			</li>
		{:else}
			<li class="text-sm">{words.none}</li>
		{/each}
	</ul>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if chosen}
		<form class="grid gap-3 rounded-sm border border-slate-rule p-2" onsubmit={plan}>
			<fieldset class="grid gap-1">
				<legend class="text-sm font-semibold">{words.places}</legend>
				{#each chosen.places as { id, name } (id)}
					<Checkbox checked={ticked.includes(id)} onchange={() => toggle(id)}>{name}</Checkbox>
				{:else}
					<p class="text-sm">{words.noPlaces}</p>
				{/each}
			</fieldset>
			<DetailsFields eventId={session.eventId} bind:details takesPicture />
			<Button type="submit" look="main" class="justify-self-start" disabled={busy || ticked.length === 0}
				>{busy ? words.planning : words.plan(count)}</Button
			>
		</form>
	{/if}
	{#if done.length > 0}
		<ul class="grid gap-1 text-sm" role="status">
			{#each done as place, at (at)}
				<li>
					{#if place.problem === ''}{words.planned(place.name)}{:else}<Warning urgent
							>{words.notPlanned(place.name, place.problem)}</Warning
						>{/if}
				</li>
			{/each}
		</ul>
	{/if}
	{#if adds}
		<form class="grid gap-2 rounded-sm border border-slate-rule p-2" autocomplete="off" onsubmit={add}>
			<p class="text-sm">{words.addHint}</p>
			<Label
				>{words.profile}<Textarea
					bind:value={profile}
					rows={4}
					required
					class="{TEXTAREA} figures mt-1 text-xs"
				/></Label
			>
			<FileButton
				label={words.openProfile}
				accept="application/json,.json"
				onchoose={([file]) => void file?.text().then((text) => (profile = text))}
			/>
			<div class="grid grid-cols-2 gap-2">
				<Label>{words.clientId}<Input bind:value={clientId} class="figures mt-1" autocomplete="off" /></Label>
				<Label
					>{words.clientSecret}<Input
						type="password"
						bind:value={clientSecret}
						class="mt-1"
						autocomplete="new-password"
					/></Label
				>
			</div>
			<div class="flex gap-2">
				<Button type="submit" look="main" disabled={busy}>{words.addIt}</Button>
				<Button onclick={() => (adds = false)}>{words.cancel}</Button>
			</div>
		</form>
	{:else}
		<Button size="sm" class="justify-self-start" onclick={() => (adds = true)}>{words.add}</Button>
	{/if}
</section>
