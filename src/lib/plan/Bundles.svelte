<script lang="ts">
	/** Events from one Bivvo to another: everything in one file, and such a file brought in. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import type { BundleSummary } from '../../core/bundle/bundle.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import FileButton from '../ui/FileButton.svelte';
	import Warning from '../ui/Warning.svelte';
	import { bytesOf, plan as words } from '../words/index.ts';
	import { invalidateAll } from '$app/navigation';

	let withKeys = $state(false);
	let passphrase = $state('');
	let busy = $state<'export' | 'look' | 'take' | null>(null);
	let problem = $state('');
	let looked = $state.raw<{ id: string; summary: BundleSummary } | null>(null);
	let opens = $state('');
	let done = $state('');

	async function exportAll(event: SubmitEvent) {
		event.preventDefault();
		busy = 'export';
		const order = { eventIds: null, passphrase: withKeys ? passphrase : null };
		const asked = await askServer<{ id: string }>('/api/export', 'POST', order);
		busy = null;
		problem = 'problem' in asked ? asked.problem : '';
		// The browser writes it to the disk as it comes.
		if ('answer' in asked) location.assign(`/api/export/${asked.answer.id}`);
	}
	async function look(files: FileList) {
		const [file] = files;
		if (!file) return;
		busy = 'look';
		problem = done = '';
		looked = null;
		const response = await fetch('/api/import', {
			method: 'POST',
			headers: { 'Content-Type': 'application/zip' },
			body: file,
		}).catch(() => null);
		const told = (await response?.json().catch(() => null)) as {
			id: string;
			summary: BundleSummary;
			message?: string;
		} | null;
		if (response?.ok && told) looked = told;
		else problem = told?.message ?? words.importFailed;
		busy = null;
	}
	async function take() {
		busy = 'take';
		const asked = await askServer<{ events: string[] }>(`/api/import/${looked!.id}`, 'POST', {
			passphrase: looked!.summary.hasSecrets && opens !== '' ? opens : null,
		});
		busy = null;
		problem = 'problem' in asked ? asked.problem : '';
		if (!('answer' in asked)) return;
		done = words.importDone(asked.answer.events.length);
		looked = null;
		await invalidateAll();
	}
	async function drop() {
		await askServer(`/api/import/${looked!.id}`, 'DELETE', {});
		looked = null;
	}
</script>

<div class="grid gap-4">
	<form class="grid gap-2" onsubmit={exportAll}>
		<p class="text-sm text-gray-600">{words.exportHint}</p>
		<Checkbox bind:checked={withKeys}>{words.withKeys}</Checkbox>
		{#if withKeys}
			<Label
				>{words.passphrase}<Input
					type="password"
					autocomplete="new-password"
					required
					minlength={10}
					bind:value={passphrase}
					class="mt-1"
				/></Label
			>
		{/if}
		<Button type="submit" disabled={busy !== null}>{busy === 'export' ? words.exporting : words.exportAll}</Button>
	</form>
	<div class="grid gap-2">
		<p class="text-sm text-gray-600">{words.importHint}</p>
		<FileButton
			label={busy === 'look' ? words.looking : words.importFile}
			accept=".zip,application/zip"
			onchoose={(files) => void look(files)}
		/>
		{#if looked}
			{@const { events, templates, songs, media, bytes, hasSecrets } = looked.summary}
			<p class="border-l-4 border-lamp pl-2">
				{words.inBundle(events.join(', '), templates.length, songs, media, bytesOf(bytes))}
			</p>
			{#if hasSecrets}
				<Label>{words.passphraseOf}<Input type="password" autocomplete="off" bind:value={opens} class="mt-1" /></Label>
			{/if}
			<div class="flex gap-2">
				<Button look="main" disabled={busy !== null} onclick={() => void take()}
					>{busy === 'take' ? words.taking : words.takeIn}</Button
				>
				<Button disabled={busy !== null} onclick={() => void drop()}>{words.cancel}</Button>
			</div>
		{/if}
		{#if done}<p role="status">{done}</p>{/if}
	</div>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
</div>
