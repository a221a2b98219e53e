<script lang="ts">
	/** A button that lets somebody choose files. */
	import { Button, Fileupload } from 'flowbite-svelte';
	import { BUTTON } from './theme.ts';

	interface Props {
		label: string;
		/** Media types, as `accept` of a file input has them. */
		accept: string;
		onchoose: (files: FileList) => void;
	}
	let { label, accept, onchoose }: Props = $props();

	const look: Record<string, unknown> = { tag: 'label', color: BUTTON.color };
	const style = [BUTTON.base, BUTTON.look.plain, BUTTON.size.md, 'cursor-pointer focus-within:border-lamp'].join(' ');
</script>

<Button {...look} class={style}>
	{label}
	<Fileupload
		class="sr-only"
		{accept}
		multiple
		onchange={({ currentTarget }: { currentTarget: HTMLInputElement }) =>
			currentTarget.files && onchoose(currentTarget.files)}
	/>
</Button>
