<script lang="ts">
	/** A field for a name that is there already. Emptied, it shows the name again: nothing goes without one. */
	import { Input } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';

	interface Props {
		/** Says what is named, for screen readers. */
		label: string;
		value: string;
		onchange: (name: string) => void;
		/** Id of a datalist with suggestions. */
		list?: string;
		class?: string;
	}
	let { label, value, onchange, list, class: extra = '' }: Props = $props();

	/**
	 * What is being typed; null while nobody types. The server may confirm an earlier change meanwhile, which must not put the
	 * name back under the hand.
	 */
	let typed = $state<string | null>(null);

	function change() {
		const name = (typed ?? value).trim();
		typed = null;
		if (name !== '') onchange(name);
	}
</script>

<Input
	size="sm"
	class={extra}
	aria-label={label}
	maxlength={MOST_NAME_LETTERS}
	{list}
	bind:value={() => typed ?? value, (next) => (typed = next)}
	onchange={change}
/>
