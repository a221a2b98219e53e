<script lang="ts">
	/** Tablets, phones and links of one event. */
	import { format } from 'date-fns';
	import { Input, Label } from 'flowbite-svelte';
	import QrCode from 'qrcode';
	import { onMount } from 'svelte';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import { siteAddress } from '../ui/site-address.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words } from '../words/index.ts';
	import PairDevice from './PairDevice.svelte';

	let { eventId, title }: { eventId: string; title: string } = $props();

	interface LinkShown {
		id: string;
		name: string;
		expiresAt: number;
		usesLeft: number;
		uses: number;
	}
	const DAY_MS = 86_400_000;
	/** Of a new link. */
	const [USES, DAYS] = [50, 2];
	let links = $state.raw<LinkShown[]>([]);
	let name = $state('');
	let made = $state.raw<{ name: string; address: string; picture: string } | null>(null);
	let problem = $state('');
	const base = $derived(`/api/events/${eventId}/links`);

	async function load() {
		const response = await fetch(base).catch(() => null);
		if (response?.ok) links = (await response.json()) as LinkShown[];
	}
	onMount(load);

	/** Shows a link, whose secret is told this once. */
	async function show(path: string, body: object, called: string) {
		const result = await askServer<{ secret: string }>(path, 'POST', body);
		problem = 'problem' in result ? result.problem : '';
		if ('answer' in result) {
			const address = siteAddress('/link', result.answer.secret);
			made = { name: called, address, picture: await QrCode.toDataURL(address, { margin: 2, width: 180 }) };
			name = '';
		}
		await load();
	}
	const make = () =>
		show(base, { name: name.trim(), role: 'viewer', expiresAt: Date.now() + DAYS * DAY_MS, uses: USES }, name.trim());
	async function revoke({ id }: LinkShown) {
		const result = await askServer(`${base}/${id}`, 'DELETE', {});
		problem = 'problem' in result ? result.problem : '';
		await load();
	}
</script>

<section class="grid gap-2" aria-labelledby="doors">
	<h2 id="doors" class="text-lg font-semibold">{words.doors}</h2>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	<Fold title={words.pairDevice}>
		<PairDevice events={[{ id: eventId, title }]} event={eventId} onpaired={() => {}} />
	</Fold>
	<Fold title={words.links(links.length)}>
		<p class="text-sm text-gray-300">{words.linksHint(USES, DAYS)}</p>
		<div class="flex flex-wrap items-end gap-2">
			<Label class="min-w-48 flex-1">
				{words.linkFor}
				<Input size="sm" bind:value={name} maxlength={120} placeholder={words.linkForIs} class="mt-1" />
			</Label>
			<Button disabled={name.trim() === ''} onclick={() => void make()}>{words.linkMake}</Button>
		</div>
		{#if made}
			<div class="flex flex-wrap items-center gap-3">
				<img src={made.picture} alt="" width="180" height="180" class="bg-white" />
				<div class="grid min-w-0 flex-1 gap-1">
					<p>{words.linkIs(made.name)}</p>
					<Input size="sm" readonly value={made.address} aria-label={words.linkFor} data-link />
				</div>
			</div>
		{/if}
		<ul class="grid gap-1">
			{#each links as link (link.id)}
				<li class="flex flex-wrap items-center gap-2">
					<span class="min-w-0 flex-1"
						>{link.name}, {words.linkState(link.uses, format(link.expiresAt, 'd MMM, HH:mm'))}</span
					>
					<Button size="sm" onclick={() => void show(`${base}/${link.id}`, {}, link.name)}>{words.linkAnew}</Button>
					<Button size="sm" onclick={() => void revoke(link)}>{words.takeBack}</Button>
				</li>
			{/each}
		</ul>
	</Fold>
</section>
