<script lang="ts">
	import { Card, Helper, Input, Label, Select } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { plan as words } from '../words/index.ts';
	import { enhance } from '$app/forms';

	interface Props {
		form: { problem: string; title: string; startsAt: string } | null;
	}
	let { form }: Props = $props();

	const sizes = [
		{ value: '1280x720', name: words.size720 },
		{ value: '1920x1080', name: words.size1080 },
	];
	const rates = [25, 30, 50, 60].map((fps) => ({ value: String(fps), name: words.frames(fps) }));
	let size = $state('1280x720');
	let fps = $state('30');
</script>

<Card class="self-start p-5">
	<form method="POST" use:enhance class="grid content-start gap-4">
		<h2 class="text-xl font-semibold">{words.newEvent}</h2>
		<Label>
			{words.name}
			<Input
				name="title"
				required
				maxlength={MOST_NAME_LETTERS}
				value={form?.title ?? ''}
				class="mt-1"
				placeholder={words.lanternNight}
			/>
		</Label>
		<Label>
			{words.starts}
			<Input type="datetime-local" name="startsAt" value={form?.startsAt ?? ''} class="mt-1" />
		</Label>
		<Label>
			{words.picture}
			<Select name="size" items={sizes} bind:value={size} class="mt-1" placeholder="" />
		</Label>
		<Label>
			{words.frameRate}
			<Select name="fps" items={rates} bind:value={fps} class="mt-1" placeholder="" />
			<Helper class="mt-1">{words.n30SuitsPeopleTalks50}</Helper>
		</Label>
		{#if form?.problem}<Warning urgent>{form.problem}</Warning>{/if}
		<Button look="main" type="submit">{words.makeEvent}</Button>
	</form>
</Card>
