<script lang="ts">
	/** Links by which guests come. A link is shown only when somebody asks: the desk's screen may be shared. */
	import { format } from 'date-fns';
	import { Input } from 'flowbite-svelte';
	import QrCode from 'qrcode';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import { siteAddress } from '../../ui/site-address.ts';
	import Warning from '../../ui/Warning.svelte';
	import { agentWords, guest as words } from '../../words/index.ts';
	import { makeGuestLink } from './links.ts';

	/** @property guests how many are there: whoever comes has opened a link */
	let { eventId, guests }: { eventId: string; guests: number } = $props();

	interface LinkShown {
		id: string;
		name: string;
		role: string;
		expiresAt: number;
		uses: number;
		/** When, and what the browser calls itself. */
		opened: { at: number; agent: string }[];
	}
	let links = $state.raw<LinkShown[]>([]);
	let name = $state('');
	let made = $state.raw<{ name: string; address: string; code: string } | null>(null);
	let isShown = $state(false);
	let copied = $state(false);
	let problem = $state('');
	const base = $derived(`/api/events/${eventId}/links`);

	async function load() {
		const response = await fetch(base).catch(() => null);
		if (response?.ok) links = ((await response.json()) as LinkShown[]).filter(({ role }) => role === 'guest');
	}
	$effect(() => {
		void guests;
		void load();
	});

	async function show(result: Awaited<ReturnType<typeof makeGuestLink>>, called: string) {
		problem = 'problem' in result ? result.problem : '';
		if ('answer' in result) {
			const address = siteAddress('/link', result.answer.secret);
			made = { name: called, address, code: await QrCode.toDataURL(address, { margin: 2, width: 180 }) };
			isShown = copied = false;
			name = '';
		}
		await load();
	}
	async function make(event: Event) {
		event.preventDefault();
		const called = name.trim();
		if (called !== '') await show(await makeGuestLink(eventId, called), called);
	}
	const makeAnew = async (link: LinkShown) => show(await askServer(`${base}/${link.id}`, 'POST', {}), link.name);
	async function takeBack({ id }: LinkShown) {
		const result = await askServer(`${base}/${id}`, 'DELETE', {});
		problem = 'problem' in result ? result.problem : '';
		await load();
	}
	async function copy() {
		copied = await navigator.clipboard.writeText(made!.address).then(
			() => true,
			() => false,
		);
		// What cannot be copied is shown to be copied by hand.
		isShown ||= !copied;
	}
	const canSend = typeof navigator.share === 'function';
</script>

<section class="panel grid gap-2 p-2 text-sm" aria-labelledby="guest-links">
	<h2 id="guest-links" class="font-semibold">{words.inviteGuest}</h2>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	<form class="flex gap-2" onsubmit={make}>
		<Input
			size="sm"
			class="min-w-0 flex-1"
			aria-label={words.guestName}
			placeholder={words.guestNameIs}
			maxlength={MOST_NAME_LETTERS}
			bind:value={name}
		/>
		<Button size="sm" type="submit" disabled={name.trim() === ''}>{words.makeLink}</Button>
	</form>
	{#if made}
		<div class="grid gap-2" role="status">
			<p>{words.linkFor(made.name)}</p>
			<div class="flex flex-wrap gap-2">
				<Button look="main" size="sm" onclick={() => void copy()}>{copied ? words.copied : words.copy}</Button>
				{#if canSend}
					<Button size="sm" onclick={() => void navigator.share({ url: made!.address }).catch(() => {})}
						>{words.shareLink}</Button
					>
				{/if}
				<Button size="sm" onclick={() => (isShown = !isShown)}>{isShown ? words.hideLink : words.showLink}</Button>
			</div>
			{#if isShown}
				<Input size="sm" readonly value={made.address} aria-label={words.address} data-link />
				<img src={made.code} alt="" width="180" height="180" class="bg-white" />
			{/if}
		</div>
	{/if}
	<ul class="grid gap-1">
		{#each links as link (link.id)}
			<li class="flex flex-wrap items-center gap-2">
				<span class="min-w-0 flex-1">
					<span class="block truncate font-semibold">{link.name}</span>
					<span class="text-xs text-gray-300"
						>{link.uses === 0 ? words.linkUnused : words.linkUsed(link.uses)}, {words.linkUntil(
							format(link.expiresAt, 'd MMM, HH:mm'),
						)}</span
					>
					{#each link.opened as { at, agent }, place (place)}
						<span class="block text-xs text-gray-300"
							>{words.linkOpened(format(at, 'd MMM, HH:mm'), agentWords(agent))}</span
						>
					{/each}
				</span>
				<Button size="xs" onclick={() => void makeAnew(link)}>{words.newLink}</Button>
				<Button size="xs" onclick={() => void takeBack(link)}>{words.takeBack}</Button>
			</li>
		{/each}
	</ul>
</section>
