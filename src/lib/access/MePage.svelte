<script lang="ts">
	/** One's own account: password, passkeys, second factor, and where one is signed in. */
	import { format, formatDistanceToNow } from 'date-fns';
	import { Card } from 'flowbite-svelte';
	import QrCode from 'qrcode';
	import { onMount } from 'svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import Warning from '../ui/Warning.svelte';
	import { access as words, agentWords, roleNames } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import { enter } from './go.ts';
	import NewPassword from './NewPassword.svelte';
	import { addPasskey, canHavePasskeys } from './passkey.ts';
	import type { PasskeyShown, SessionShown } from './people.ts';
	import { invalidateAll } from '$app/navigation';

	interface Props {
		me: { name: string; role: AnyRole | null; kind: string };
		/** Null for who has no account: a device, or whoever sits at the machine. */
		account: { hasPassword: boolean; hasSecondFactor: boolean; passkeys: PasskeyShown[] } | null;
		sessions: SessionShown[];
	}
	let { me, account, sessions }: Props = $props();

	let former = $state('');
	let password = $state('');
	let says = $state('');
	let problem = $state('');
	let device = $state('');
	let hasPasskeys = $state(false);
	let proposed = $state<{ secret: string; picture: string } | null>(null);
	let code = $state('');
	let passwordAgain = $state('');
	onMount(() => (hasPasskeys = canHavePasskeys()));

	async function signOut() {
		await askServer('/api/access/sign-out', 'POST', {});
		enter('/sign-in');
	}
	async function ask(path: string, method: string) {
		const result = await askServer(path, method, {});
		problem = 'problem' in result ? result.problem : '';
		await invalidateAll();
	}
	async function keepPasskey() {
		problem = await addPasskey(device.trim() || navigator.platform);
		device = '';
		await invalidateAll();
	}
	async function proposeSecondFactor() {
		const result = await askServer<{ secret: string; address: string }>('/api/access/second-factor', 'POST', {});
		if ('problem' in result) return void (problem = result.problem);
		const { secret, address } = result.answer;
		proposed = { secret, picture: await QrCode.toDataURL(address, { margin: 2, width: 220 }) };
	}
	async function settled(sentence: string) {
		proposed = null;
		former = password = passwordAgain = code = '';
		says = sentence;
		await invalidateAll();
	}
</script>

<svelte:head><title>{words.me}</title></svelte:head>

<main class="mx-auto grid max-w-2xl gap-6 p-4 sm:p-8">
	<header>
		<nav class="text-sm"><a class="inline-block min-h-6 underline" href="/">{words.toStart}</a></nav>
		<h1 class="text-3xl font-bold">{words.me}</h1>
		<div class="mt-1 flex flex-wrap items-center gap-4">
			<p class="text-lg text-gray-600">{words.youAre(me.name, me.role ? roleNames[me.role] : '–')}</p>
			{#if me.kind !== 'machine'}<Button onclick={() => void signOut()}>{words.signOut}</Button>{/if}
		</div>
	</header>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if says}<Warning>{says}</Warning>{/if}
	{#if !account}
		{#if me.kind === 'machine'}<p>{words.atTheMachine}</p>{/if}
	{:else}
		<Card class="gap-3 p-5">
			<h2 class="text-xl font-semibold">{words.passkeys}</h2>
			<p class="text-gray-600">{words.passkeysHint}</p>
			<ul class="grid gap-2">
				{#each account.passkeys as key (key.id)}
					<li class="flex items-center gap-3">
						<span class="min-w-0 flex-1 break-words"
							>{key.name}, {words.passkeyOf(format(key.createdAt, 'd MMM yyyy'))}</span
						>
						<Button size="sm" onclick={() => void ask(`/api/access/passkeys/${encodeURIComponent(key.id)}`, 'DELETE')}
							>{words.remove}</Button
						>
					</li>
				{/each}
			</ul>
			{#if hasPasskeys}
				<Field label={words.passkeyName} bind:value={device} autocomplete="off" />
				<Button size="touch" onclick={() => void keepPasskey()}>{words.passkeyAdd}</Button>
			{:else}
				<p class="text-sm text-gray-600">{words.passkeysNeedTls}</p>
			{/if}
		</Card>
		<Card class="gap-3 p-5">
			<h2 class="text-xl font-semibold">{words.secondFactor}</h2>
			<p class="text-gray-600">{account.hasSecondFactor ? words.secondFactorOn : words.secondFactorOff}</p>
			{#if account.hasSecondFactor}
				<AskForm
					to="/api/access/second-factor"
					method="DELETE"
					body={() => ({ password: passwordAgain })}
					submit={words.secondFactorDrop}
					ondone={() => settled('')}
				>
					<Field label={words.password} bind:value={passwordAgain} type="password" autocomplete="current-password" />
				</AskForm>
			{:else if proposed}
				<p>{words.secondFactorRead}</p>
				<img src={proposed.picture} alt="" width="220" height="220" class="bg-white" />
				<code class="break-all" data-secret>{proposed.secret}</code>
				<AskForm
					to="/api/access/second-factor"
					method="PUT"
					body={() => ({ secret: proposed!.secret, code })}
					submit={words.secondFactorKeep}
					ondone={() => settled('')}
				>
					<Field label={words.code} bind:value={code} autocomplete="one-time-code" inputmode="numeric" />
				</AskForm>
			{:else}
				<Button size="touch" onclick={() => void proposeSecondFactor()}>{words.secondFactorSet}</Button>
			{/if}
		</Card>
		<Card class="gap-3 p-5">
			<Fold title={words.changePassword}>
				<p class="text-gray-600">{words.changePasswordHint}</p>
				<AskForm
					to="/api/access/password"
					method="PUT"
					body={() => ({ former, password })}
					submit={words.changePassword}
					ondone={() => settled(words.passwordChanged)}
				>
					{#if account.hasPassword}
						<Field label={words.formerPassword} bind:value={former} type="password" autocomplete="current-password" />
					{/if}
					<NewPassword bind:value={password} />
				</AskForm>
			</Fold>
		</Card>
		<Card class="gap-3 p-5">
			<h2 class="text-xl font-semibold">{words.sessions}</h2>
			<ul class="grid gap-2">
				{#each sessions as session (session.id)}
					<li class="flex items-center gap-3">
						<span class="min-w-0 flex-1 text-sm break-words">
							{agentWords(session.agent)}, {session.address},
							{session.isThis
								? words.thisSession
								: words.seen(formatDistanceToNow(session.seenAt, { addSuffix: true }))}
						</span>
						{#if !session.isThis}
							<Button size="sm" onclick={() => void ask(`/api/access/sessions/${session.id}`, 'DELETE')}
								>{words.end}</Button
							>
						{/if}
					</li>
				{/each}
			</ul>
		</Card>
	{/if}
</main>
