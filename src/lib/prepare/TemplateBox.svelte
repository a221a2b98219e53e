<script lang="ts">
	/** An event and its template: made of it, changed by it, and what of it the event does not have yet. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { batchOf } from '../../core/show/command.ts';
	import type { Offer } from '../../core/show/templates/offer.ts';
	import { plainAsks, type Asks } from '../../core/show/templates/template.ts';
	import { useSession } from '../show/context.ts';
	import AsksFields from '../templates/AsksFields.svelte';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { prepare as words } from '../words/index.ts';

	const session = useSession();
	const { eventId } = session;
	const setup = $derived(session.state.setup);

	interface From {
		id: string;
		name: string;
		version: number;
		offers: Offer[];
	}
	/** Undefined until it is known. */
	let from = $state.raw<From | null | undefined>(undefined);
	let chosen = $state.raw<ReadonlySet<string>>(new Set());
	let problem = $state('');
	let name = $state('');
	let making = $state(false);
	let asks = $state.raw<Asks>(untrack(() => plainAsks(setup)));

	async function look() {
		const response = await fetch(`/api/events/${eventId}/template`).catch(() => null);
		if (!response?.ok) return;
		from = (await response.json()) as From | null;
		chosen = new Set(from?.offers.filter(({ isBoth }) => !isBoth).map(({ key }) => key));
	}
	$effect(() => void look());

	async function make(event: SubmitEvent) {
		event.preventDefault();
		const asked = await askServer('/api/templates', 'POST', { name, eventId, asks });
		problem = 'problem' in asked ? asked.problem : '';
		if (problem !== '') return;
		making = false;
		session.notify(words.templateMade(name));
		await look();
	}
	async function give() {
		const asked = await askServer(`/api/templates/${from!.id}`, 'PUT', { eventId });
		problem = 'problem' in asked ? asked.problem : '';
		if (problem === '') session.notify(words.templateChanged(from!.name));
		await look();
	}
	async function take() {
		const commands = from!.offers.filter(({ key }) => chosen.has(key)).flatMap((offer) => offer.commands);
		if (commands.length > 0 && !session.doWithUndo(batchOf(commands), words.offersTaken(from!.name))) return;
		const { id: templateId, version } = from!;
		const asked = await askServer(`/api/events/${eventId}/template`, 'PUT', { templateId, version });
		problem = 'problem' in asked ? asked.problem : '';
		await look();
	}
	function tick(key: string, ticked: boolean) {
		chosen = new Set(ticked ? [...chosen, key] : [...chosen].filter((each) => each !== key));
	}
</script>

{#if from !== undefined}
	<section class="grid grid-cols-1 gap-2" aria-labelledby="template">
		<h2 id="template" class="text-lg font-semibold">{words.template}</h2>
		<div class="panel grid grid-cols-1 gap-2 p-3">
			{#if from && from.offers.length > 0}
				<p class="border-l-4 border-lamp pl-2">{words.offers(from.name)}</p>
				<ul class="grid gap-1">
					{#each from.offers as { key, what, name: entry, how, isBoth } (key)}
						<li>
							<Checkbox checked={chosen.has(key)} onchange={({ currentTarget }) => tick(key, currentTarget.checked)}
								><span
									>{words.offered[what]}{entry === '' ? '' : `: ${entry}`} · {words.hows[how]}{isBoth
										? `. ${words.changedHereToo}`
										: ''}</span
								></Checkbox
							>
						</li>
					{/each}
				</ul>
				<Button look="main" class="justify-self-start" onclick={() => void take()}
					>{chosen.size === 0 ? words.takeNone : words.takeOffers(chosen.size)}</Button
				>
			{:else if from}
				<p class="text-sm text-gray-300">{words.cameFrom(from.name)}</p>
				<Button class="justify-self-start text-left whitespace-normal" onclick={() => void give()}
					>{words.giveToTemplate(from.name)}</Button
				>
			{/if}
			{#if making}
				<form class="grid gap-2" onsubmit={make}>
					<Label class="grid gap-1"
						>{words.templateName}<Input size="sm" bind:value={name} required maxlength={120} /></Label
					>
					<AsksFields {asks} fields={setup.fields} onchange={(changed) => (asks = changed)} />
					<Button look="main" type="submit" class="justify-self-start">{words.makeTemplate}</Button>
				</form>
			{:else}
				<Button
					class="justify-self-start"
					onclick={() => {
						name = setup.title;
						asks = plainAsks(setup);
						making = true;
					}}>{words.makeTemplateOf}</Button
				>
			{/if}
			{#if problem}<Warning urgent>{problem}</Warning>{/if}
		</div>
	</section>
{/if}
