<script lang="ts">
	/** The list of keys, which can be changed here; they are kept on this machine. */
	import { Modal, Table, TableBody, TableBodyCell, TableBodyRow } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import { actions as words } from '../words/index.ts';
	import { ACTIONS, type Action } from './actions.ts';
	import { keyOf, keysOf, keyWords } from './key-map.ts';
	import type { Keys } from './keys.svelte.ts';

	interface Props {
		open: boolean;
		keys: Keys;
	}
	let { open = $bindable(), keys }: Props = $props();

	/** The action that gets the next key that is pressed. */
	let waiting = $state<string | null>(null);
	let said = $state('');

	const textOf = (id: string) => keysOf(id, keys.chosen).map(keyWords).join(words.or) || words.noKey;
	const isChanged = $derived(Object.keys(keys.chosen).length > 0);

	function change({ id }: Action) {
		waiting = waiting === id ? null : id;
		said = '';
	}
	function choose(event: KeyboardEvent) {
		if (waiting === null) return;
		const key = keyOf(event);
		if (key === null) return;
		event.preventDefault();
		event.stopPropagation();
		if (key !== 'Escape') {
			const lost = keys.choose(waiting, key);
			said = lost ? words.keyLost(keyWords(key), lost.words) : '';
		}
		waiting = null;
	}
	function reset() {
		keys.reset();
		said = '';
	}
</script>

<svelte:window onkeydowncapture={choose} />

<Modal bind:open size="md" title={words.keys} onclose={() => (waiting = null)}>
	<Table>
		<TableBody>
			{#each ACTIONS.values() as action (action.id)}
				<TableBodyRow>
					<TableBodyCell class="figures py-1 font-semibold">
						{waiting === action.id ? words.pressNewKey : textOf(action.id)}
					</TableBodyCell>
					<TableBodyCell class="py-1 whitespace-normal">{action.words}</TableBodyCell>
					<TableBodyCell class="py-1 text-right">
						<Button size="xs" aria-label={words.changeKey(action.words)} onclick={() => change(action)}
							>{waiting === action.id ? words.cancel : words.change}</Button
						>
					</TableBodyCell>
				</TableBodyRow>
			{/each}
		</TableBody>
	</Table>
	{#snippet footer()}
		<p role="status" class="grow text-sm">{said || words.keysKeptOnMachine}</p>
		{#if isChanged}
			<Button size="sm" onclick={reset}>{words.backUsualKeys}</Button>
		{/if}
	{/snippet}
</Modal>
