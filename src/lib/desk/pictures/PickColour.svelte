<script lang="ts">
	/** Takes a colour from a source's own picture. */
	import { Modal } from 'flowbite-svelte';
	import type { Yuv } from '../../../core/picture/colour.ts';
	import { pictures as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import Placer from './Placer.svelte';

	interface Props {
		sourceId: string;
		title: string;
		onpick: (colour: Yuv) => void;
		open: boolean;
	}
	let { sourceId, title, onpick, open = $bindable() }: Props = $props();
	const session = useDesk();

	const size = $derived(session.conditions.get(sourceId) ?? null);

	async function pick(x: number, y: number) {
		const colour = await session.engine?.pickColour(sourceId, x, y);
		if (colour) onpick(colour);
		else session.notify(words.thereNoPicturePickFrom);
		open = false;
	}
</script>

<Modal bind:open size="lg" {title}>
	<div class="aspect-video w-full">
		<Placer
			subject={{ sourceId }}
			label={words.picturePickFrom}
			items={[]}
			selected={null}
			of={size?.width ? size : null}
			onchange={() => {}}
			onpick={(x, y) => void pick(x, y)}
		/>
	</div>
</Modal>
