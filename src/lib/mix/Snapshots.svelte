<script lang="ts">
	/** Snapshots of the mix: stored as it is now, recalled in the time that is set. */
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import type { Snapshot } from '../../core/show/mix/mix.ts';
	import { snapshotOf } from '../../core/show/mix/mix.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import { press } from '../ui/press.ts';

	const session = useSession();
	const show = $derived(session.state);

	let fadeS = $state(2);
	let name = $state('');
	/** Channels that the next snapshot leaves alone. */
	let left = $state<string[]>([]);
	const { snapshots } = $derived(show.setup.mix);

	function store() {
		const called = name.trim() || `Snapshot ${snapshots.length + 1}`;
		const touched = show.setup.channels.filter(({ id }) => !left.includes(id));
		session.do({ type: 'storeSnapshot', snapshot: snapshotOf(newId(), called, touched) });
		name = '';
	}
	function recall(snapshot: Snapshot) {
		const command = { type: 'recallSnapshot' as const, snapshotId: snapshot.id, fadeMs: fadeS * 1000 };
		session.doWithUndo(command, `The mix goes to ${snapshot.name}.`);
	}
	function remove(snapshot: Snapshot) {
		session.doWithUndo({ type: 'removeSnapshot', snapshotId: snapshot.id }, `${snapshot.name} was removed.`);
	}
	function touch(id: string) {
		left = left.includes(id) ? left.filter((each) => each !== id) : [...left, id];
	}
</script>

<section class="panel grid gap-2 p-3" aria-label="Snapshots">
	<h2 class="font-semibold">Snapshots</h2>
	{#each snapshots as snapshot (snapshot.id)}
		<div class="flex gap-1">
			<button class="act min-h-11 min-w-0 flex-1 truncate" use:press={() => recall(snapshot)}>{snapshot.name}</button>
			<button class="act min-h-11 px-3" aria-label="Remove {snapshot.name}" onclick={() => remove(snapshot)}
				><TrashBinOutline class="size-4" /></button
			>
		</div>
	{:else}
		<p class="text-sm text-gray-300">None yet. Store the mix as it is for the talk, then as it is for the choir.</p>
	{/each}
	<label class="flex items-center justify-between gap-2 text-sm">
		Fade to it in
		<span class="flex items-center gap-1"
			><input type="number" class="figures field w-20" min="0" max="60" step="0.5" bind:value={fadeS} /> s</span
		>
	</label>
	<div class="flex gap-1">
		<input
			class="field min-w-0 flex-1"
			placeholder="Talk"
			aria-label="Name of the new snapshot"
			maxlength="120"
			bind:value={name}
		/>
		<button class="act min-h-11" onclick={store}>Store it</button>
	</div>
	<details>
		<summary class="cursor-pointer text-sm">Channels it touches: {show.setup.channels.length - left.length}</summary>
		{#each show.setup.channels as { id, name: called } (id)}
			<label class="flex min-h-8 items-center gap-2 text-sm">
				<input type="checkbox" class="tick" checked={!left.includes(id)} onchange={() => touch(id)} />
				{called}
			</label>
		{/each}
	</details>
</section>
