<script lang="ts">
	import { useSession } from './context.ts';

	const session = useSession();
</script>

<ul class="fixed bottom-14 left-64 z-40 grid gap-2" aria-live="polite">
	{#each session.notices as { id, text, undo } (id)}
		<li class="flex items-center gap-3 rounded-sm border border-lamp bg-gray-700 px-4 py-2 text-paper">
			<span>{text}</span>
			{#if undo}
				<button
					class="act py-1 text-sm"
					onclick={() => {
						undo();
						session.dismiss(id);
					}}
				>
					Undo
				</button>
			{/if}
			<button
				class="px-2 text-gray-300 hover:text-paper"
				aria-label="Close this notice"
				onclick={() => session.dismiss(id)}>✕</button
			>
		</li>
	{/each}
</ul>
