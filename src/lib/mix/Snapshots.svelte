<script lang="ts">
	/** Snapshots of the mix: stored as it is now, recalled in the time that is set. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import type { Snapshot } from '../../core/show/mix/mix.ts';
	import { snapshotOf } from '../../core/show/mix/mix.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import Fold from '../ui/Fold.svelte';
	import { mix as words } from '../words/index.ts';

	const session = useSession();
	const show = $derived(session.state);

	let fadeS = $state(2);
	let name = $state('');
	/** Channels that the next snapshot leaves alone. */
	let left = $state<string[]>([]);
	const { snapshots } = $derived(show.setup.mix);

	function store() {
		const called = name.trim() || words.snapshot(snapshots.length + 1);
		const touched = show.setup.channels.filter(({ id }) => !left.includes(id));
		session.do({ type: 'storeSnapshot', snapshot: snapshotOf(newId(), called, touched) });
		name = '';
	}
	function recall(snapshot: Snapshot) {
		const command = { type: 'recallSnapshot' as const, snapshotId: snapshot.id, fadeMs: fadeS * 1000 };
		session.doWithUndo(command, words.mixGoes(snapshot.name));
	}
	function remove(snapshot: Snapshot) {
		session.doWithUndo({ type: 'removeSnapshot', snapshotId: snapshot.id }, words.removed(snapshot.name));
	}
	function touch(id: string) {
		left = left.includes(id) ? left.filter((each) => each !== id) : [...left, id];
	}
</script>

<section class="panel grid gap-2 p-3" aria-label={words.snapshots}>
	<h2 class="font-semibold">{words.snapshots}</h2>
	{#each snapshots as snapshot (snapshot.id)}
		<div class="flex gap-1">
			<Button class="min-h-11 min-w-0 flex-1 truncate" onpress={() => recall(snapshot)}>{snapshot.name}</Button>
			<Button class="min-h-11" aria-label={words.removeSnapshot(snapshot.name)} onclick={() => remove(snapshot)}
				><TrashBinOutline class="size-4" /></Button
			>
		</div>
	{:else}
		<p class="text-sm text-gray-300">{words.noneYetStoreMixAs}</p>
	{/each}
	<Label class="flex items-center justify-between gap-2 text-sm">
		{words.fadeTime}
		<span class="flex items-center gap-1"
			><Input size="sm" type="number" class="figures w-20!" min="0" max="60" step="0.5" bind:value={fadeS} /> s</span
		>
	</Label>
	<div class="flex gap-1">
		<Input
			size="sm"
			class="min-w-0! flex-1"
			placeholder={words.talk}
			aria-label={words.nameNewSnapshot}
			maxlength={MOST_NAME_LETTERS}
			bind:value={name}
		/>
		<Button class="min-h-11" onclick={store}>{words.store}</Button>
	</div>
	<Fold title={words.channelsTouches(show.setup.channels.length - left.length)}>
		{#each show.setup.channels as { id, name: called } (id)}
			<Checkbox classes={{ div: 'min-h-8' }} checked={!left.includes(id)} onchange={() => touch(id)}>{called}</Checkbox>
		{/each}
	</Fold>
</section>
