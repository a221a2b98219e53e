<script lang="ts">
	/** The list of keys, which can be changed here; they are kept on this machine. */
	import { Modal, Table, TableBody, TableBodyCell, TableBodyRow } from 'flowbite-svelte';
	import { subjectOf } from '../../core/show/actions/actions.ts';
	import type { Order } from '../../core/show/actions/order.ts';
	import { EVERYTHING_OFF } from '../../core/show/macros/macro.ts';
	import OrderFields from '../panel/OrderFields.svelte';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import { actionNames, actions as words, orderLabel } from '../words/index.ts';
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
	const isChanged = $derived(Object.keys(keys.chosen).length + keys.own.length > 0);
	/** Waits for the key of any action. */
	const OWN = 'own';
	let order = $state.raw<Order>({ action: 'macro', of: EVERYTHING_OFF });
	const session = useSession();
	const labelOf = (each: Order) => `${actionNames[each.action]}: ${orderLabel(each, subjectOf(session.state, each))}`;

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
			const lost = waiting === OWN ? keys.give(key, order) : keys.choose(waiting, key);
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
			{#each keys.own as { key, order: given } (key)}
				<TableBodyRow>
					<TableBodyCell class="figures py-1 font-semibold">{keyWords(key)}</TableBodyCell>
					<TableBodyCell class="py-1 whitespace-normal">{labelOf(given)}</TableBodyCell>
					<TableBodyCell class="py-1 text-right">
						<Button size="xs" aria-label={words.takeKey(keyWords(key))} onclick={() => keys.takeBack(key)}
							>{words.remove}</Button
						>
					</TableBodyCell>
				</TableBodyRow>
			{/each}
		</TableBody>
	</Table>
	<section class="grid gap-2 border-t border-slate-rule pt-2" aria-label={words.anyAction}>
		<OrderFields label={words.anyAction} {order} onchange={(chosen) => chosen && (order = chosen)} />
		<Button size="sm" onclick={() => (waiting = waiting === OWN ? null : OWN)}
			>{waiting === OWN ? words.pressNewKey : words.giveKey}</Button
		>
	</section>
	{#snippet footer()}
		<p role="status" class="grow text-sm">{said || words.keysKeptOnMachine}</p>
		{#if isChanged}
			<Button size="sm" onclick={reset}>{words.backUsualKeys}</Button>
		{/if}
	{/snippet}
</Modal>
