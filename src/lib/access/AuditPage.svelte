<script lang="ts">
	/** Who did what, for the owner. */
	import { format } from 'date-fns';
	import { Table, TableBody, TableBodyCell, TableBodyRow } from 'flowbite-svelte';
	import type { AuditLine } from '../../core/access/audit.ts';
	import Button from '../ui/Button.svelte';
	import { access as words, auditWords } from '../words/index.ts';

	let { lines, older }: { lines: (AuditLine & { id: number })[]; older: number | null } = $props();
</script>

<svelte:head><title>{words.audit}</title></svelte:head>

<main class="mx-auto grid max-w-5xl gap-4 p-4 sm:p-8">
	<header>
		<nav class="text-sm"><a class="inline-block min-h-6 underline" href="/people">{words.people}</a></nav>
		<h1 class="text-3xl font-bold">{words.audit}</h1>
		<p class="mt-1 text-gray-600">{words.auditHint}</p>
	</header>
	{#if lines.length === 0}
		<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">{words.auditNone}</p>
	{:else}
		<Table>
			<TableBody>
				{#each lines as line (line.id)}
					<TableBodyRow>
						<TableBodyCell class="figures whitespace-nowrap">{format(line.at, 'd MMM yyyy, HH:mm:ss')}</TableBodyCell>
						<TableBodyCell>{line.actorName}</TableBodyCell>
						<TableBodyCell class="whitespace-normal">{auditWords(line.code, line.about)}</TableBodyCell>
						<TableBodyCell class="figures">{line.address}</TableBodyCell>
					</TableBodyRow>
				{/each}
			</TableBody>
		</Table>
	{/if}
	{#if older !== null}<Button href="/audit?before={older}">{words.older}</Button>{/if}
</main>
