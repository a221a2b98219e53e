<script lang="ts">
	/** Shows a code, and a picture of it, that makes a tablet or a phone a device of this Bivvo. */
	import { Label } from 'flowbite-svelte';
	import QrCode from 'qrcode';
	import type { Role } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import { siteAddress } from '../ui/site-address.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words, certificate } from '../words/index.ts';
	import Field from './Field.svelte';
	import RoleFields from './RoleFields.svelte';

	interface Props {
		events: readonly { id: string; title: string }[];
		/** The one it is for at first. */
		event?: string | null;
		but?: readonly Role[];
		onpaired: () => void;
	}
	let { events, event = null, but = ['owner'], onpaired }: Props = $props();

	let name = $state(words.pairNameIs);
	let role = $state<Role>('sound');
	// svelte-ignore state_referenced_locally
	let eventId = $state<string | null>(event);
	let opens = $state<keyof typeof words.opens>('');
	interface Offered {
		code: string;
		until: number;
		/** True when the device will ask whether to trust the server's own certificate. */
		isOwnCertificate: boolean;
	}
	let shown = $state<(Offered & { picture: string }) | null>(null);
	let leftS = $state(0);
	let says = $state('');

	async function show() {
		const result = await askServer<Offered>('/api/access/pairings', 'POST', {
			name,
			role,
			eventId,
			opens: eventId === null ? '' : opens,
		});
		if ('problem' in result) return void (says = result.problem);
		says = '';
		const { code } = result.answer;
		const picture = await QrCode.toDataURL(siteAddress('/pair', code), { margin: 2, width: 220 });
		shown = { ...result.answer, picture };
	}
	$effect(() => {
		if (!shown) return;
		const { code, until } = shown;
		const look = async () => {
			leftS = Math.max(0, Math.ceil((until - Date.now()) / 1000));
			const response = await fetch(`/api/access/pairings/${code}`).catch(() => null);
			const told = response?.ok ? ((await response.json()) as { waits: boolean }) : null;
			if (told?.waits !== false) return;
			says = leftS > 0 ? words.paired : words.pairOver;
			shown = null;
			onpaired();
		};
		void look();
		const timer = setInterval(() => void look(), 1000);
		return () => clearInterval(timer);
	});
	const spaced = $derived(shown ? `${shown.code.slice(0, 4)} ${shown.code.slice(4)}` : '');
</script>

<div class="grid gap-3">
	{#if shown}
		<p>{words.pairCodeIs} <strong>{siteAddress('/pair', '')}</strong></p>
		<div class="flex flex-wrap items-center gap-4">
			<img src={shown.picture} alt="" width="220" height="220" class="bg-white" />
			<p class="figures text-4xl font-bold" data-code>{spaced}</p>
		</div>
		<p class="figures text-gray-600">{words.pairLeft(leftS)}</p>
		{#if shown.isOwnCertificate}
			<p class="text-sm">
				{words.ownCertificate}
				<a class="font-semibold underline" href="/certificate" target="_blank">{certificate.link}</a>
			</p>
		{/if}
	{:else}
		<Field label={words.pairName} bind:value={name} autocomplete="off" />
		<RoleFields bind:role bind:eventId {events} {but} />
		{#if eventId !== null}
			<Label>
				{words.opensPage}
				<ChoiceField
					value={opens}
					choices={choicesOf(words.opens)}
					onchange={(page) => (opens = page)}
					class="mt-1 w-full"
				/>
			</Label>
		{/if}
		<Button look="main" size="touch" onclick={() => void show()}>{words.showCode}</Button>
	{/if}
	{#if says}<Warning>{says}</Warning>{/if}
</div>
