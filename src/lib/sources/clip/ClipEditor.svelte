<script lang="ts" generics="S extends ClipSource">
	/** What a clip or reel plays, and how it begins and ends. */
	import { Checkbox } from 'flowbite-svelte';
	import { ArrowDownOutline, ArrowUpOutline, TrashBinOutline } from 'flowbite-svelte-icons';
	import { clipItemOf, makingBed } from '../../../core/media/adding.ts';
	import type { ClipItem } from '../../../core/show/clips/clip.ts';
	import type { ClipSource } from '../../../core/show/clips/source.ts';
	import { batchOf } from '../../../core/show/command.ts';
	import ClipTransport from '../../desk/clips/ClipTransport.svelte';
	import MediaPicker from '../../media/MediaPicker.svelte';
	import PlayedPart from '../../media/PlayedPart.svelte';
	import { useSession } from '../../show/context.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import NumberField from '../../ui/NumberField.svelte';
	import { clips as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, show, onchange }: EditorProps<S> = $props();
	const session = useSession();

	const set = (part: Partial<ClipSource>) => onchange({ ...source, ...part });
	const setItem = (at: number, part: Partial<ClipItem>) =>
		set({ items: source.items.with(at, { ...source.items[at]!, ...part }) });
	function setBed(bed: boolean) {
		if (source.kind === 'soundClip') session.do(batchOf(makingBed(source, show.setup.channels, bed)));
	}
	function move(at: number, to: number) {
		const item = source.items[at]!;
		set({ items: source.items.toSpliced(at, 1).toSpliced(to, 0, item) });
	}
</script>

<section class="grid gap-2">
	<ClipTransport {source} />
	<h3 class="font-semibold">{words.files}</h3>
	<ol class="grid gap-2">
		{#each source.items as item, at (at)}
			<li class="grid gap-1 rounded-sm border border-slate-rule p-1.5">
				<p class="flex items-center gap-1">
					<span class="min-w-0 flex-1 truncate font-semibold" title={item.name}>{item.name}</span>
					{#if source.items.length > 1}
						<Button
							look="icon"
							aria-label={words.earlier(item.name)}
							disabled={at === 0}
							onclick={() => move(at, at - 1)}><ArrowUpOutline class="size-4" /></Button
						>
						<Button
							look="icon"
							aria-label={words.later(item.name)}
							disabled={at === source.items.length - 1}
							onclick={() => move(at, at + 1)}><ArrowDownOutline class="size-4" /></Button
						>
						<Button
							look="icon"
							aria-label={words.remove(item.name)}
							onclick={() => set({ items: source.items.toSpliced(at, 1) })}><TrashBinOutline class="size-4" /></Button
						>
					{/if}
				</p>
				<PlayedPart {...item} onchange={(part) => setItem(at, part)} />
			</li>
		{/each}
	</ol>
	<Fold title={words.addFile}>
		<MediaPicker several={false} onadd={(_, files) => set({ items: [...source.items, ...files.map(clipItemOf)] })} />
	</Fold>
	<Checkbox checked={source.repeats} onchange={() => set({ repeats: !source.repeats })}>{words.repeat}</Checkbox>
	{#if source.items.length > 1}
		<Checkbox checked={source.shuffled} onchange={() => set({ shuffled: !source.shuffled })}>{words.shuffle}</Checkbox>
	{/if}
	{#if source.kind === 'soundClip'}
		<Checkbox checked={source.bed} onchange={() => setBed(!source.bed)}>{words.bed}</Checkbox>
		{#if source.bed}<p class="text-gray-300">{words.bedHint}</p>{/if}
	{/if}
	{#if source.kind === 'clip'}
		<Checkbox checked={source.playsOnTake} onchange={() => set({ playsOnTake: !source.playsOnTake })}
			>{words.playsOnTake}</Checkbox
		>
		<div class="flex items-center justify-between gap-2">
			<span class="text-gray-300">{words.ends}</span>
			<ChoiceField
				label={words.ends}
				value={source.ends}
				choices={choicesOf({ stand: words.stands, black: words.black })}
				onchange={(ends) => set({ ends })}
			/>
		</div>
		<NumberField
			label={words.leadOut}
			min={0}
			max={60}
			unit={words.seconds}
			value={source.leadOutMs / 1000}
			onchange={(value) => set({ leadOutMs: Math.round(value * 1000) })}
		/>
	{/if}
</section>
