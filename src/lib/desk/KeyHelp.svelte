<script lang="ts">
	import { Modal } from 'flowbite-svelte';
	import { KEY_LIST } from './keys.ts';

	let { open = $bindable() }: { open: boolean } = $props();
</script>

<Modal bind:open size="sm" title="Keys">
	<table class="w-full text-left text-base text-gray-900 dark:text-paper">
		<tbody>
			{#each KEY_LIST as { keys, does } (keys)}
				<tr class="border-b border-slate-rule">
					<th class="figures py-1.5 pr-4 font-semibold">{keys}</th>
					<td class="py-1.5">{does}</td>
				</tr>
			{/each}
		</tbody>
	</table>
</Modal>
