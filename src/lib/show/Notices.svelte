<script lang="ts">
	/** What has just been done, each with its way back, for some seconds. */
	import { Toast } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import { show as words } from '../words/index.ts';
	import { useSession } from './context.ts';

	interface Props {
		/** Where they stand; beside the run sheet when absent. */
		class?: string;
	}
	let { class: place = 'bottom-14 left-64' }: Props = $props();
	const session = useSession();
</script>

<ul class="fixed z-40 grid justify-items-start gap-2 {place}" aria-live="polite">
	{#each session.notices as { id, text, undo } (id)}
		<li>
			<Toast
				role={null}
				params={{ duration: 0 }}
				closeAriaLabel={words.closeNotice}
				onclose={(event: Event) => {
					event.preventDefault();
					session.dismiss(id);
				}}
			>
				<span>{text}</span>
				{#if undo}
					<Button
						size="sm"
						onclick={() => {
							undo();
							session.dismiss(id);
						}}>{words.undo}</Button
					>
				{/if}
			</Toast>
		</li>
	{/each}
</ul>
