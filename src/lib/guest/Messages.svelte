<script lang="ts">
	/** What guest and crew write to each other. */
	import { Input } from 'flowbite-svelte';
	import { MOST_SAID, type Said } from '../../core/guests/messages.ts';
	import Button from '../ui/Button.svelte';
	import type { ButtonSize } from '../ui/theme.ts';
	import { guest as words, timeOf } from '../words/index.ts';

	interface Props {
		said: readonly Said[];
		/** Whose side this is. */
		own: Said['by'];
		label: string;
		size?: ButtonSize;
		onsay: (text: string) => void;
	}
	let { said, own, label, size = 'sm', onsay }: Props = $props();
	let text = $state('');

	function say(event: Event) {
		event.preventDefault();
		const trimmed = text.trim();
		if (trimmed === '') return;
		onsay(trimmed);
		text = '';
	}
	const nameOf = (by: Said['by']) => (by === own ? words.you : by === 'crew' ? words.crew : label);
</script>

{#if said.length > 0}
	<ul class="grid max-h-40 gap-1 overflow-y-auto text-sm" aria-live="polite">
		{#each said as { by, text: line, at }, i (i)}
			<li>
				<span class="figures text-xs">{timeOf(at)}</span> <b>{nameOf(by)}</b>
				<span class="break-words">{line}</span>
			</li>
		{/each}
	</ul>
{/if}
<form class="flex gap-2" onsubmit={say}>
	<Input
		size="sm"
		class="min-w-0 flex-1 {size === 'touch' ? 'min-h-11 text-base' : ''}"
		maxlength={MOST_SAID}
		aria-label={label}
		placeholder={label}
		bind:value={text}
	/>
	<Button {size} type="submit" disabled={text.trim() === ''}>{words.send}</Button>
</form>
