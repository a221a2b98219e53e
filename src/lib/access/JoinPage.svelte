<script lang="ts">
	/** An invitation: its secret is in the part of the address that no server sees. */
	import { onMount } from 'svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words, roleNames } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import Frame from './Frame.svelte';
	import { enter } from './go.ts';

	interface Invited {
		name: string;
		role: AnyRole | null;
		roleAt: Record<string, AnyRole>;
	}
	let secret = '';
	let invited = $state<Invited | null>(null);
	let problem = $state('');
	let name = $state('');
	let login = $state('');
	let password = $state('');

	onMount(async () => {
		secret = location.hash.slice(1);
		const result = await askServer<Invited>('/api/access/join', 'POST', { secret });
		if ('problem' in result) problem = result.problem;
		else {
			invited = result.answer;
			name = invited.name;
		}
	});
	const role = $derived(invited && (invited.role ?? Object.values(invited.roleAt)[0]));
</script>

<Frame title={words.join}>
	{#if invited}
		<p>{words.joinAs(role ? roleNames[role] : '')}</p>
		<p class="text-gray-600">{words.joinHint}</p>
		<AskForm
			to="/api/access/join"
			method="PUT"
			body={() => ({ secret, name, login, password })}
			submit={words.joinNow}
			ondone={() => enter('/')}
		>
			<Field label={words.yourName} bind:value={name} autocomplete="name" />
			<Field label={words.login} bind:value={login} autocomplete="username" />
			<Field
				label={words.newPassword}
				hint={words.passwordHint}
				bind:value={password}
				type="password"
				autocomplete="new-password"
			/>
		</AskForm>
	{:else if problem}
		<Warning urgent>{problem}</Warning>
	{:else}
		<p>{words.looking}</p>
	{/if}
</Frame>
