<script lang="ts">
	/** What can be done with an event of the first page: changed, made again, exported, put away. */
	import { Input, Label, Select } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import Button from '../ui/Button.svelte';
	import { plan as words } from '../words/index.ts';
	import { FRAME_RATES, pictureOf, SIZES } from './pictures.ts';
	import type { EventShelf } from './shelf.svelte.ts';

	interface Props {
		event: { id: string; title: string; startsAt: string; archivedAt: number | null };
		shelf: EventShelf;
		mayExport: boolean;
		oncopy: () => void;
	}
	let { event, shelf, mayExport, oncopy }: Props = $props();

	const LINK = 'inline-block min-h-6 underline';
	let changing = $state(false);
	let title = $state('');
	let startsAt = $state('');
	/** Empty while the picture stays as it is. */
	let size = $state('');
	let fps = $state('30');
	const sizes = [{ value: '', name: words.asItIs }, ...SIZES];
	function begin() {
		({ title, startsAt } = event);
		size = '';
		changing = true;
	}
	async function change(submitted: SubmitEvent) {
		submitted.preventDefault();
		const picture = size === '' ? {} : { picture: pictureOf(size, fps) };
		if (await shelf.change(event.id, { title, startsAt, ...picture })) changing = false;
	}
</script>

{#if changing}
	<form class="grid gap-3 sm:grid-cols-2" onsubmit={change}>
		<Label>{words.name}<Input bind:value={title} required maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
		<Label>{words.starts}<Input type="datetime-local" bind:value={startsAt} class="mt-1" /></Label>
		<Label>{words.picture}<Select items={sizes} bind:value={size} class="mt-1" placeholder="" /></Label>
		{#if size !== ''}
			<Label>{words.frameRate}<Select items={FRAME_RATES} bind:value={fps} class="mt-1" placeholder="" /></Label>
		{/if}
		<p class="text-sm text-gray-600 sm:col-span-2">{words.changeHint}</p>
		<div class="flex gap-2 sm:col-span-2">
			<Button look="main" type="submit">{words.save}</Button>
			<Button onclick={() => (changing = false)}>{words.cancel}</Button>
		</div>
	</form>
{:else}
	<div class="flex flex-wrap gap-x-4 text-sm">
		<Button look="bare" class={LINK} onclick={begin}>{words.change}</Button>
		<Button look="bare" class={LINK} onclick={oncopy}>{words.copy}</Button>
		{#if mayExport}
			<Button look="bare" class={LINK} onclick={() => void shelf.export(event.id)}>{words.exportOne}</Button>
		{/if}
		{#if event.archivedAt === null}
			<Button look="bare" class={LINK} onclick={() => void shelf.putAway(event.id, event.title, 'archived')}
				>{words.archive}</Button
			>
		{:else}
			<Button look="bare" class={LINK} onclick={() => void shelf.bringBack(event.id, event.title)}
				>{words.bringBack}</Button
			>
		{/if}
		<Button look="bare" class={LINK} onclick={() => void shelf.putAway(event.id, event.title, 'deleted')}
			>{words.delete}</Button
		>
	</div>
{/if}
