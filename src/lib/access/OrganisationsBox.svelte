<script lang="ts">
	/** Other organisations on this server: the way into each, and one more. */
	import { Input, Label } from 'flowbite-svelte';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { access as words } from '../words/index.ts';
	import { invalidateAll } from '$app/navigation';

	let { organisations }: { organisations: readonly { id: string; name: string }[] } = $props();
	let name = $state('');
	let problem = $state('');
	let made = $state.raw<{ name: string; address: string } | null>(null);

	async function add(event: SubmitEvent) {
		event.preventDefault();
		const asked = await askServer<{ id: string; secret: string }>('/api/organisations', 'POST', { name });
		problem = 'problem' in asked ? asked.problem : '';
		if (!('answer' in asked)) return;
		const { id, secret } = asked.answer;
		made = { name, address: `${location.origin}/join?o=${id}#${secret}` };
		name = '';
		await invalidateAll();
	}
</script>

<section class="grid gap-3" aria-labelledby="organisations">
	<h2 id="organisations" class="text-xl font-semibold">{words.organisations}</h2>
	<p class="text-sm text-gray-600">{words.organisationsHint}</p>
	<ul class="grid gap-1">
		{#each organisations as { id, name: called } (id)}
			<li><a class="inline-block min-h-6 underline" href="/?o={id}" data-sveltekit-reload>{called}</a></li>
		{/each}
	</ul>
	<form class="flex flex-wrap items-end gap-2" onsubmit={add}>
		<Label class="min-w-56 flex-1"
			>{words.organisationName}<Input bind:value={name} required maxlength={120} class="mt-1" /></Label
		>
		<Button size="touch" type="submit">{words.addOrganisation}</Button>
	</form>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if made}
		<p role="status">{words.organisationMade(made.name)}</p>
		<Input readonly value={made.address} aria-label={words.organisationAddress} />
	{/if}
</section>
