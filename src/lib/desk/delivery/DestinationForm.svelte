<script lang="ts">
	import { Helper, Input, Label, Modal, Textarea } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { cleanKey, parseAddress, parsePasted } from '../../../core/delivery/address.ts';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import type { Destination } from '../../../core/show/state.ts';
	import { newId } from '../../show/new-id.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import Fold from '../../ui/Fold.svelte';
	import { TEXTAREA } from '../../ui/theme.ts';
	import Warning from '../../ui/Warning.svelte';
	import { addressWords, delivery as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import ByItself from './ByItself.svelte';

	interface Props {
		/** The destination to change, or null for a new one. */
		destination: Destination | null;
		open: boolean;
	}
	let { destination, open = $bindable() }: Props = $props();
	const session = useDesk();

	const start = untrack(() => destination);
	let name = $state(start?.name ?? '');
	let address = $state(start?.address ?? '');
	let key = $state('');
	let userName = $state(start?.userName ?? '');
	let password = $state('');
	let maxHeight = $state(start?.maxHeight ?? undefined);
	/** In Mbit/s, as hosts name it. */
	let maxMbps = $state(start?.maxKbps ? start.maxKbps / 1000 : undefined);
	let maxFps = $state(start?.maxFps ?? undefined);
	let accountUrl = $state(start?.accountUrl ?? '');
	let pasted = $state('');
	let keyShown = $state(false);
	/** True when the field holds the stored key, fetched because somebody asked to see it. */
	let keyTouched = $state(false);
	let problem = $state('');
	let saving = $state(false);

	const addressProblem = $derived.by(() => {
		if (address.trim() === '') return '';
		const parsed = parseAddress(address);
		return 'problem' in parsed ? addressWords(parsed.problem) : '';
	});

	function takePasted() {
		if (pasted.trim() === '') return;
		const found = parsePasted(pasted);
		if ('problem' in found) {
			problem = addressWords(found.problem);
			return;
		}
		address = found.address;
		if (found.key) {
			key = found.key;
			keyTouched = true;
		}
		problem = '';
		pasted = '';
	}

	async function showKey() {
		if (!keyShown && key === '' && destination?.hasKey) {
			const response = await fetch(`/api/events/${session.eventId}/destinations/${destination.id}/reveal`, {
				method: 'POST',
				headers: { 'Content-Type': 'application/json' },
				body: '{}',
			});
			if (response.ok) key = ((await response.json()) as { key: string }).key;
			else problem = words.keyNotFetched;
		}
		keyShown = !keyShown;
	}

	async function save(event: SubmitEvent) {
		event.preventDefault();
		problem = addressProblem;
		if (problem) return;
		saving = true;
		const body = {
			id: destination?.id ?? newId(),
			name,
			address,
			key: keyTouched ? cleanKey(key) : null,
			userName,
			password: password === '' ? null : password,
			maxHeight: maxHeight ?? null,
			maxKbps: maxMbps ? Math.round(1000 * maxMbps) : null,
			maxFps: maxFps ?? null,
			accountUrl: accountUrl.trim() || null,
		};
		const result = await askServer(`/api/events/${session.eventId}/destinations`, 'PUT', body);
		saving = false;
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') open = false;
	}

	function remove() {
		if (!destination) return;
		const { id: destinationId, name } = destination;
		open = false;
		session.doWithUndo({ type: 'removeDestination', destinationId }, words.removed(name));
	}

	// What was typed is not kept in a closed dialog: a key must not wait there.
	$effect(() => {
		if (open) return;
		key = password = pasted = problem = '';
		keyShown = keyTouched = false;
	});
</script>

<Modal bind:open size="md" title={destination ? words.change(destination.name) : words.addDestination}>
	<form id="destination-form" class="grid gap-3" onsubmit={save} autocomplete="off">
		<Label>
			{words.pasteAddressKeyTogether}
			<Textarea
				bind:value={pasted}
				rows={2}
				class="{TEXTAREA} mt-1"
				placeholder={words.pasteHereWhatHostShows}
				oninput={() => setTimeout(takePasted)}
			/>
		</Label>
		<Label>
			{words.name}
			<Input bind:value={name} required maxlength={MOST_NAME_LETTERS} class="mt-1" placeholder={words.ridgeChannel} />
		</Label>
		<Label>
			{words.serverAddress}
			<Input bind:value={address} required class="figures mt-1" placeholder="rtmp://host.example/live" />
			{#if addressProblem}<Helper class="mt-1 font-semibold text-lamp">{addressProblem}</Helper>{/if}
		</Label>
		<div>
			<Label for="destination-key">{words.key}</Label>
			<div class="mt-1 flex gap-2">
				<Input
					id="destination-key"
					type={keyShown ? 'text' : 'password'}
					bind:value={key}
					class="figures"
					autocomplete="off"
					spellcheck="false"
					placeholder={destination?.hasKey ? words.storedPasteHereOnlyReplace : words.pasteKey}
					oninput={() => {
						keyTouched = true;
						key = cleanKey(key);
					}}
				/>
				<Button size="sm" class="shrink-0" aria-pressed={keyShown} onclick={showKey}
					>{keyShown ? words.hide : words.show}</Button
				>
			</div>
			<Helper class="mt-1">{words.spacesLineBreaksRemovedAnybody}</Helper>
		</div>
		<div class="grid grid-cols-2 gap-3">
			<Label>
				{words.userNameIfHostAsks}
				<Input bind:value={userName} class="mt-1" autocomplete="off" />
			</Label>
			<Label>
				{words.password}
				<Input
					type="password"
					bind:value={password}
					class="mt-1"
					autocomplete="new-password"
					placeholder={destination?.userName ? words.stored : ''}
				/>
			</Label>
		</div>
		<fieldset class="grid grid-cols-3 gap-3">
			<legend class="col-span-3 pb-1 text-sm text-gray-900 dark:text-paper">{words.limitsHostIfNamesAny}</legend>
			<Label>
				{words.lines}
				<Input type="number" min={120} max={4320} bind:value={maxHeight} class="figures mt-1" placeholder="1080" />
			</Label>
			<Label>
				{words.totalMbitS}
				<Input type="number" min={0.2} max={100} step="any" bind:value={maxMbps} class="figures mt-1" placeholder="6" />
			</Label>
			<Label>
				{words.framesPerSecond}
				<Input type="number" min={10} max={120} bind:value={maxFps} class="figures mt-1" placeholder="60" />
			</Label>
		</fieldset>
		<Label>
			{words.addressAccountIfOne}
			<Input bind:value={accountUrl} class="figures mt-1" placeholder="https://host.example/account/ridge" />
			<Helper class="mt-1">{words.thenDeskKnowsWhetherViewers}</Helper>
		</Label>
		<Fold title={words.whereAtHost}>
			<ol class="grid list-decimal gap-1 pl-5 text-sm">
				{#each [words.stepSignIn, words.stepEncoder, words.stepCopy, words.stepLimits, words.stepPublic] as step (step)}
					<li>{step}</li>
				{/each}
			</ol>
		</Fold>
		{#if address.trim() !== '' && !addressProblem}
			<Fold title={words.byItself}>
				<ByItself
					address={address.trim()}
					maxHeight={maxHeight ?? null}
					maxKbps={maxMbps ? 1000 * maxMbps : null}
					maxFps={maxFps ?? null}
				/>
			</Fold>
		{/if}
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</form>
	{#snippet footer()}
		<Button look="main" form="destination-form" disabled={saving}>{saving ? words.saving : words.save}</Button>
		<Button onclick={() => (open = false)}>{words.cancel}</Button>
		{#if destination}<Button class="ml-auto" onclick={remove} disabled={session.isOnAir}>{words.remove}</Button>{/if}
	{/snippet}
</Modal>
