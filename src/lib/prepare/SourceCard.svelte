<script lang="ts">
	/** One source while an event is prepared: its picture as it is now, how it is, and how loud. */
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { kindOf, type Source } from '../../core/show/sources/source.ts';
	import { useDesk } from '../desk/context.ts';
	import { drag } from '../desk/pictures/drag.ts';
	import Monitor from '../desk/pictures/Monitor.svelte';
	import { conditionWords } from '../desk/sources/condition-words.ts';
	import LevelBar from '../mix/LevelBar.svelte';
	import { shownKindOf } from '../sources/kinds.ts';
	import Button from '../ui/Button.svelte';
	import { faultShort, prepare as words } from '../words/index.ts';

	interface Props {
		source: Source;
	}
	let { source }: Props = $props();
	const session = useDesk();

	const Icon = $derived(shownKindOf(source).icon);
	const hasPicture = $derived(kindOf(source).brings.picture);
	const condition = $derived(session.conditions.get(source.id));
	const fault = $derived(
		condition?.state === 'lost' ? words.noPicture : condition?.fault ? faultShort(condition.fault) : '',
	);
	const channels = $derived(session.state.setup.channels.filter(({ sourceId }) => sourceId === source.id));
	const heardOf = (id: string) => session.heard?.channels.find((each) => each.id === id) ?? null;
</script>

<li
	class="panel flex min-w-0 flex-col {hasPicture ? '' : 'col-span-full'}"
	data-source={source.id}
	draggable={hasPicture}
	ondragstart={(event) => drag(event, { is: 'source', id: source.id })}
>
	{#if hasPicture && session.isEngine}
		<Monitor
			subject={{ sourceId: source.id }}
			mark="none"
			label={source.name}
			empty={false}
			{fault}
			compact
			named={false}
			class="w-full"
		/>
	{/if}
	<div class="flex items-center gap-2 p-2">
		<Icon class="size-5 shrink-0 text-gray-300" />
		<div class="min-w-0 flex-1">
			<Button
				look="bare"
				class="block max-w-full truncate font-semibold hover:text-lamp"
				aria-label={words.change(source.name)}
				onclick={() => session.sheet.editSource(source.id)}>{source.name}</Button
			>
			{#if session.isEngine}
				<p class="figures truncate text-xs text-gray-300">{conditionWords(session, source)}</p>
			{/if}
		</div>
		<Button look="icon" aria-label={words.remove(source.name)} onclick={() => session.removeSource(source)}
			><TrashBinOutline class="size-5 text-gray-300" /></Button
		>
	</div>
	{#if channels.length > 0}
		<div
			class="mt-auto grid gap-x-4 gap-y-1 px-2 pb-2 {hasPicture
				? ''
				: 'grid-cols-[repeat(auto-fill,minmax(9rem,1fr))]'}"
		>
			{#each channels as { id, name } (id)}
				<div class="min-w-0">
					{#if !hasPicture}<span class="block truncate text-xs text-gray-300">{name}</span>{/if}
					<LevelBar of={id} heard={heardOf(id)} label={words.level(name)} thin />
				</div>
			{/each}
		</div>
	{/if}
</li>
