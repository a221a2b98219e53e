<script lang="ts">
	/** Somebody gets ready: they see themselves, and what could be better. */
	import { Input, Label } from 'flowbite-svelte';
	import { judgeLine } from '../../core/guests/line-check.ts';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { guest as words, rateOf } from '../words/index.ts';
	import { useGuest } from './context.ts';
	import DeviceFields from './DeviceFields.svelte';
	import OwnConsent from './OwnConsent.svelte';
	import OwnPicture from './OwnPicture.svelte';

	const session = useGuest();
	let name = $state(session.name);
	const isOpening = $derived(
		!session.camera && !session.microphone && Object.values(session.problems).every((p) => !p),
	);

	function ask(event: Event) {
		event.preventDefault();
		if (name.trim() !== '') session.knock(name.trim());
	}
</script>

<form class="grid gap-4 md:grid-cols-2" onsubmit={ask}>
	<OwnPicture without={isOpening ? words.opening : words.noPicture} />
	<div class="grid content-start gap-4">
		<Label>
			{words.yourName}
			<Input class="mt-1 min-h-11 text-base" required maxlength={MOST_NAME_LETTERS} bind:value={name} />
			<span class="text-sm font-normal">{words.nameHint}</span>
		</Label>
		<DeviceFields />
		<div role="status">
			{#if session.check.line?.is === 'measuring'}
				<p class="text-sm">{words.lineMeasuring}</p>
			{:else if session.check.line}
				{@const { line } = session.check.line}
				{@const advice = judgeLine(line)}
				{#if advice === 'good'}<p class="text-sm">{words.lineIs.good(rateOf(line.kbps))}</p>
				{:else}<Warning>{words.lineIs[advice](rateOf(line.kbps))}</Warning>{/if}
			{/if}
		</div>
		<OwnConsent />
		<Button look="main" size="touch" type="submit" disabled={isOpening || name.trim() === ''}
			>{words.askToBeLetIn}</Button
		>
	</div>
</form>
