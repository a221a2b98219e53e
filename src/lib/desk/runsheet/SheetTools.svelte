<script lang="ts">
	/** What one does with the run sheet as a whole: tries it out, brings it in, takes it away. */
	import { Modal } from 'flowbite-svelte';
	import { isSheetLocked } from '../../../core/show/runsheet/order.ts';
	import { plannedTimes } from '../../../core/show/runsheet/plan.ts';
	import { cuesOfTable, cuesOfText, tableOf, textOf, type ReadTable } from '../../../core/show/runsheet/table.ts';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import { CSV, csvOf, rowsOfCsv } from '../../ui/csv.ts';
	import FileButton from '../../ui/FileButton.svelte';
	import { saveFile } from '../../ui/save.ts';
	import TimeField from '../../ui/TimeField.svelte';
	import { runsheet as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import DryRun from './DryRun.svelte';

	const session = useDesk();
	const show = $derived(session.state);

	let trying = $state(false);
	let read = $state.raw<(ReadTable & { file: string }) | null>(null);
	let importing = $state(false);
	/** As many as one reads before one looks at the file itself. */
	const SHOWN_PROBLEMS = 8;
	const MOST_BYTES = 1_000_000;

	async function open(files: FileList) {
		const [file] = files;
		if (!file) return;
		const { name } = file;
		try {
			if (file.size > MOST_BYTES) throw new Error(words.importTooLarge);
			const text = await file.text();
			const isTable = /\.(csv|tsv)$/i.test(name);
			const found = isTable
				? cuesOfTable(rowsOfCsv(text), show.setup, newId)
				: { cues: cuesOfText(text, show.setup, newId), problems: [] };
			if (found.cues.length === 0) return session.notify(words.importNothing(name));
			read = { ...found, file: name };
			importing = true;
		} catch (error) {
			session.notify(words.importUnreadable(name, (error as Error).message));
		}
	}
	function take(keep: boolean) {
		const cues = [...(keep ? show.setup.cues : []), ...read!.cues];
		if (session.changeSheet({ type: 'replaceCues', cues }, words.imported(read!.cues.length))) importing = false;
	}

	const fileName = (ending: string) => `${show.setup.title.replace(/[^\p{L}\p{N}]+/gu, '-')}-run-sheet.${ending}`;
	function saveText() {
		const plan = plannedTimes(show);
		const text = textOf(show.setup.cues, ({ id }) => plan.get(id)?.at ?? null, show.setup.timeZone);
		saveFile(fileName('txt'), text, 'text/plain;charset=utf-8');
	}
</script>

<div class="flex flex-wrap items-center gap-1.5">
	<Button look="main" hint={words.dryRunHint} onclick={() => (trying = true)}>{words.dryRun}</Button>
	{#if !isSheetLocked(show)}
		<FileButton
			label={words.importFile}
			accept=".csv,.tsv,.txt,text/csv,text/plain"
			onchoose={(files) => void open(files)}
		/>
	{/if}
	<Button onclick={() => saveFile(fileName('csv'), csvOf(tableOf(show.setup)), CSV)}>{words.exportCsv}</Button>
	<Button onclick={saveText}>{words.exportText}</Button>
	<Button href="/events/{session.eventId}/sheet" target="_blank" hint={words.printHint}>{words.print}</Button>
	<div class="ml-auto">
		<TimeField
			label={words.overAt}
			value={show.setup.overAt}
			onchange={(overAt) => session.do({ type: 'setOverAt', overAt })}
		/>
	</div>
</div>

{#if trying}<DryRun bind:open={trying} />{/if}
<Modal bind:open={importing} size="md" title={words.importTitle(read?.file ?? '')}>
	{#if read}
		<div class="grid gap-3 text-paper">
			<p class="font-semibold">{words.importCount(read.cues.length)}</p>
			<ol class="max-h-48 overflow-y-auto border border-slate-rule">
				{#each read.cues as { id, plannedAt, name, heading } (id)}
					<li class="flex gap-3 border-t border-t-slate-rule px-2 py-1 first:border-t-0 {heading ? 'font-bold' : ''}">
						<span class="figures w-16 text-gray-300">{plannedAt}</span>{name}
					</li>
				{/each}
			</ol>
			{#if read.problems.length > 0}
				<ul class="grid gap-1 text-sm text-lamp">
					{#each read.problems.slice(0, SHOWN_PROBLEMS) as { row, column, text }, i (i)}
						<li>{words.importProblem(row, column, text)}</li>
					{/each}
					{#if read.problems.length > SHOWN_PROBLEMS}
						<li>{words.importMore(read.problems.length - SHOWN_PROBLEMS)}</li>
					{/if}
				</ul>
			{/if}
			<div class="flex flex-wrap gap-2">
				<Button look="main" onclick={() => take(true)}>{words.addLines}</Button>
				{#if show.setup.cues.length > 0}
					<Button onclick={() => take(false)}>{words.replaceLines}</Button>
				{/if}
				<Button class="ml-auto" onclick={() => (importing = false)}>{words.cancel}</Button>
			</div>
		</div>
	{/if}
</Modal>
