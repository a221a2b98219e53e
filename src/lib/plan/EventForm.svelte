<script lang="ts">
	import { enhance } from '$app/forms';
	import { Card, Helper, Input, Label, Select } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';

	interface Props {
		form: { problem: string; title: string; startsAt: string } | null;
	}
	let { form }: Props = $props();

	const sizes = [
		{ value: '1280x720', name: '1280 × 720, safe for most lines' },
		{ value: '1920x1080', name: '1920 × 1080, needs a fast line' },
	];
	const rates = [25, 30, 50, 60].map((fps) => ({ value: String(fps), name: `${fps} frames a second` }));
	let size = $state('1280x720');
	let fps = $state('30');
</script>

<Card class="self-start p-5">
	<form method="POST" use:enhance class="grid content-start gap-4">
		<h2 class="text-xl font-semibold">New event</h2>
		<Label>
			Name
			<Input name="title" required maxlength={120} value={form?.title ?? ''} class="mt-1" placeholder="Lantern Night" />
		</Label>
		<Label>
			Starts
			<Input type="datetime-local" name="startsAt" value={form?.startsAt ?? ''} class="mt-1" />
		</Label>
		<Label>
			Picture
			<Select name="size" items={sizes} bind:value={size} class="mt-1" placeholder="" />
		</Label>
		<Label>
			Frame rate
			<Select name="fps" items={rates} bind:value={fps} class="mt-1" placeholder="" />
			<Helper class="mt-1">30 suits people and talks. 50 or 60 is for sport, and costs more.</Helper>
		</Label>
		{#if form?.problem}<Warning urgent>{form.problem}</Warning>{/if}
		<Button look="main" type="submit">Make the event</Button>
	</form>
</Card>
