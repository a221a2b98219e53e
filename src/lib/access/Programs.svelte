<script lang="ts">
	/** Other programs that may come in, each by a token that is shown once. */
	import { format } from 'date-fns';
	import { Card, Input } from 'flowbite-svelte';
	import { onMount } from 'svelte';
	import type { Role } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import Warning from '../ui/Warning.svelte';
	import { access as words, roleNames } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import RoleFields from './RoleFields.svelte';

	interface TokenShown {
		id: string;
		name: string;
		role: Role;
		eventId: string | null;
		createdBy: string;
		createdAt: number;
		usedAt: number | null;
	}
	let { events }: { events: { id: string; title: string }[] } = $props();

	const PATH = '/api/access/tokens';
	let tokens = $state.raw<TokenShown[]>([]);
	let name = $state('');
	let role = $state<Role>('director');
	let eventId = $state<string | null>(null);
	let made = $state.raw<{ name: string; secret: string } | null>(null);
	let problem = $state('');

	async function load() {
		const response = await fetch(PATH).catch(() => null);
		if (response?.ok) tokens = (await response.json()) as TokenShown[];
	}
	onMount(load);
	async function show({ secret }: { secret: string }) {
		made = { name, secret };
		name = '';
		await load();
	}
	async function revoke({ id }: TokenShown) {
		const result = await askServer(`${PATH}/${id}`, 'DELETE', {});
		problem = 'problem' in result ? result.problem : '';
		await load();
	}
	const titleOf = (id: string | null) =>
		id === null ? words.allEvents : (events.find((each) => each.id === id)?.title ?? id);
	const used = (at: number | null) => (at === null ? words.neverUsed : words.used(format(at, 'd MMM, HH:mm')));
</script>

<section aria-labelledby="programs">
	<h2 id="programs" class="mb-3 text-xl font-semibold">{words.programs}</h2>
	<p class="mb-3 text-gray-600">{words.programsHint}</p>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	<ul class="grid gap-3">
		{#each tokens as token (token.id)}
			<li>
				<Card class="flex flex-row flex-wrap items-center gap-3 p-4">
					<div class="min-w-0 flex-1">
						<h3 class="font-semibold break-words">{token.name}</h3>
						<p class="text-sm text-gray-600">
							{[roleNames[token.role], titleOf(token.eventId), used(token.usedAt)].join(', ')}
						</p>
					</div>
					<Button size="touch" onclick={() => void revoke(token)}>{words.revoke}</Button>
				</Card>
			</li>
		{/each}
	</ul>
	<Card class="mt-3 gap-4 p-5">
		<Fold title={words.programNew}>
			<AskForm to={PATH} body={() => ({ name, role, eventId })} submit={words.programMake} ondone={show}>
				<Field label={words.programName} bind:value={name} autocomplete="off" />
				<RoleFields bind:role bind:eventId {events} />
			</AskForm>
			{#if made}
				<p>{words.programIs(made.name)}</p>
				<Input readonly value={made.secret} aria-label={words.programIs(made.name)} data-token />
			{/if}
		</Fold>
	</Card>
</section>
