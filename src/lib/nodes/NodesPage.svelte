<script lang="ts">
	/** All nodes, for the owner. */
	import { takes, type Emptying } from '../../core/nodes/load.ts';
	import type { NodeShown } from '../../core/nodes/shown.ts';
	import { askServer } from '../ui/ask.ts';
	import Warning from '../ui/Warning.svelte';
	import { access, nodes as words } from '../words/index.ts';
	import NodeCard from './NodeCard.svelte';

	/** Null on a server of one. */
	let { nodesAtFirst }: { nodesAtFirst: NodeShown[] | null } = $props();
	/** What was seen last; it stays while the node that would answer is gone. */
	let seen = $state.raw<NodeShown[] | null>(null);
	const nodes = $derived(seen ?? nodesAtFirst);
	let problem = $state('');

	const REFRESH_MS = 2000;
	const there = $derived(nodes?.filter(({ isThere }) => isThere) ?? []);
	const versions = $derived(new Set(there.map(({ version }) => version)));
	async function refresh(): Promise<void> {
		const response = await fetch('/api/nodes').catch(() => null);
		if (!response?.ok) return;
		const answer = (await response.json().catch(() => null)) as { nodes: NodeShown[] } | null;
		seen = answer?.nodes ?? seen;
	}

	$effect(() => {
		if (!nodesAtFirst) return;
		const timer = setInterval(() => void refresh(), REFRESH_MS);
		return () => clearInterval(timer);
	});

	async function empty({ id }: NodeShown, emptying: Emptying | null) {
		const asked = await askServer(`/api/nodes/${id}`, 'PUT', { emptying });
		problem = 'problem' in asked ? asked.problem : '';
		await refresh();
	}
</script>

<svelte:head><title>{words.nodes}</title></svelte:head>

<main class="mx-auto grid max-w-5xl gap-6 p-4 sm:p-8">
	<header>
		<nav class="text-sm"><a class="inline-block min-h-6 underline" href="/people">{access.people}</a></nav>
		<h1 class="text-3xl font-bold">{words.nodes}</h1>
		<p class="mt-1 max-w-prose text-gray-600">{words.hint}</p>
	</header>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if nodes === null}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">{words.alone}</p>
	{:else}
		{#if versions.size > 1}<Warning>{words.twoVersions}</Warning>{/if}
		{#if there.length === 1}<Warning>{words.oneLeft}</Warning>{/if}
		{#each nodes as node (node.id)}
			<NodeCard
				{node}
				hasOther={there.some((other) => other.id !== node.id && takes(other))}
				onempty={(emptying) => void empty(node, emptying)}
			/>
		{/each}
	{/if}
</main>
