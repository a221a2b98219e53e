<script lang="ts">
	/** An invitation: its secret is in the part of the address that no server sees. */
	import { onMount } from 'svelte';
	import type { AnyRole } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words, roleNames } from '../words/index.ts';
	import AccountFields from './AccountFields.svelte';
	import AskForm from './AskForm.svelte';
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
	let account = $state({ name: '', login: '', password: '' });

	onMount(async () => {
		secret = location.hash.slice(1);
		const result = await askServer<Invited>('/api/access/join', 'POST', { secret });
		if ('problem' in result) problem = result.problem;
		else {
			invited = result.answer;
			account.name = invited.name;
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
			body={() => ({ secret, ...account })}
			submit={words.joinNow}
			ondone={() => enter('/')}
		>
			<AccountFields bind:account />
		</AskForm>
	{:else if problem}
		<Warning urgent>{problem}</Warning>
	{:else}
		<p>{words.looking}</p>
	{/if}
</Frame>
