<script lang="ts">
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { kindOf, type Source } from '../../../core/show/sources/source.ts';
	import { shownKindOf } from '../../sources/kinds.ts';
	import Button from '../../ui/Button.svelte';
	import { sources as words } from '../../words/index.ts';
	import { problemWords } from '../../words/problem.ts';
	import { useDesk } from '../context.ts';
	import { drag } from '../pictures/drag.ts';
	import { conditionWords } from './condition-words.ts';

	const session = useDesk();
	const show = $derived(session.state);

	async function shareAgain({ id, name }: Source) {
		try {
			await session.share(id);
		} catch (error) {
			session.notify(problemWords(error, name));
		}
	}
	const isShareOver = ({ id }: Source) => {
		const code = session.conditions.get(id)?.fault?.code;
		return code === 'shareEnded' || code === 'notShared';
	};
</script>

<section class="panel" aria-labelledby="sources">
	<div class="flex items-center justify-between">
		<h2 id="sources" class="panel-title">{words.sources}</h2>
		<Button size="xs" class="mr-2" onclick={() => (session.adding = true)}>{words.addSource}</Button>
	</div>
	<ul>
		{#each show.setup.sources as source (source.id)}
			{@const Icon = shownKindOf(source).icon}
			{@const hasPicture = kindOf(source).brings.picture}
			<li
				class="flex items-center gap-2 border-t border-slate-rule px-3 py-1"
				data-source={source.id}
				draggable={hasPicture}
				ondragstart={(event) => drag(event, { is: 'source', id: source.id })}
			>
				<Icon class="size-5 shrink-0 text-gray-300" />
				<div class="min-w-0 flex-1">
					<Button
						look="bare"
						class="block max-w-full truncate font-semibold hover:text-lamp"
						hint={hasPicture ? words.framingsPatchesPicture : words.settingsSound}
						onclick={() => session.sheet.editSource(source.id)}>{source.name}</Button
					>
					<p class="figures text-xs text-gray-300">{conditionWords(session, source)}</p>
				</div>
				{#if isShareOver(source)}
					<Button size="xs" onclick={() => void shareAgain(source)}>{words.shareAgain}</Button>
				{/if}
				<Button
					look="bare"
					class="p-1 text-gray-300 hover:text-lamp"
					aria-label={words.remove(source.name)}
					onclick={() => session.removeSource(source)}
				>
					<TrashBinOutline class="size-5" />
				</Button>
			</li>
		{:else}
			<li class="border-t border-slate-rule px-3 py-2 text-sm text-gray-300">{words.noCameraOrSoundYet}</li>
		{/each}
	</ul>
</section>
