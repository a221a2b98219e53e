<script lang="ts">
	/** The list of people, the overlays, and the patches of the program. */
	import { Checkbox, Textarea } from 'flowbite-svelte';
	import { ArrowDownOutline, ArrowUpOutline, TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_TEXT_LETTERS, WHOLE } from '../../../core/show/basics.ts';
	import { plainWordsOverlay, type Overlay } from '../../../core/show/overlays/overlay.ts';
	import { kindOf } from '../../../core/show/sources/source.ts';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong, choicesOf } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import NameField from '../../ui/NameField.svelte';
	import NumberField from '../../ui/NumberField.svelte';
	import Sheet from '../../ui/Sheet.svelte';
	import { TEXTAREA } from '../../ui/theme.ts';
	import { overlays as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import LookFields from './LookFields.svelte';
	import PatchFields from './PatchFields.svelte';
	import PeopleFields from './PeopleFields.svelte';

	const session = useDesk();
	const show = $derived(session.state);

	const withPicture = $derived(show.setup.sources.filter((source) => kindOf(source).brings.picture));
	const onProgram = $derived(show.setup.patches.filter(({ sourceId }) => sourceId === null));

	const change = (overlay: Overlay) => session.do({ type: 'changeOverlay', overlay });
	function remove({ id: overlayId, name }: Overlay) {
		session.doWithUndo({ type: 'removeOverlay', overlayId }, words.deleted(name));
	}

	const common = { reach: 'every' as const, showMs: 0, move: 'fade' as const };
	const CORNER = { x: 0.83, y: 0.05, width: 0.13, height: 0.16 };
	function add(kind: string) {
		const id = newId();
		const source = withPicture.find((each) => !kindOf(each).isLive) ?? withPicture[0];
		if (kind === 'lowerThird')
			session.do({
				type: 'addOverlay',
				overlay: {
					...common,
					id,
					name: words.whoIsSpeaking,
					kind: 'lowerThird',
					move: 'rise',
					showMs: 8000,
					personId: show.setup.people[0]?.id ?? null,
					side: 'left',
				},
			});
		else if (kind === 'ticker')
			session.do({
				type: 'addOverlay',
				overlay: { ...common, id, name: words.ticker, kind: 'ticker', text: words.whatViewersShouldKnow },
			});
		else if (kind === 'words') session.do({ type: 'addOverlay', overlay: plainWordsOverlay(id, words.wordsName) });
		else if (source) {
			const box = kind === 'logo' ? CORNER : { ...WHOLE };
			const name = kind === 'logo' ? words.logoName : words.frameName;
			session.do({
				type: 'addOverlay',
				overlay: { ...common, id, name, kind: 'picture', sourceId: source.id, box, fit: 'fit' },
			});
		} else session.notify(words.addStillOrCardAs);
	}
	function addPatch() {
		session.do({
			type: 'addPatch',
			patch: {
				id: newId(),
				name: words.programName,
				sourceId: null,
				area: { x: 0.3, y: 0.3, width: 0.4, height: 0.4 },
				style: 'blur',
				strength: 5,
				on: false,
				follow: false,
			},
		});
	}
	const KINDS = {
		lowerThird: words.lowerThird,
		ticker: words.ticker,
		picture: words.picture,
		words: words.wordsName,
	} as const;
</script>

<Sheet title={words.namesOverlays} onclose={() => session.sheet.close()}>
	<div class="grid gap-4">
		<section class="grid gap-1">
			<h3 class="font-semibold">{words.people}</h3>
			<PeopleFields />
		</section>

		<Fold title={words.look}><LookFields /></Fold>
		<section class="grid gap-2">
			<h3 class="font-semibold">{words.overlaysFromBackFront}</h3>
			{#each show.setup.overlays as overlay, at (overlay.id)}
				<div class="grid gap-1 rounded-sm border border-slate-rule p-1.5">
					<div class="flex items-center gap-0.5">
						<NameField
							label={words.nameOverlay}
							value={overlay.name}
							onchange={(name) => change({ ...overlay, name })}
						/>
						<Button
							look="icon"
							aria-label={words.back(overlay.name)}
							onclick={() => session.do({ type: 'moveOverlay', overlayId: overlay.id, at: Math.max(0, at - 1) })}
							><ArrowUpOutline class="size-4" /></Button
						>
						<Button
							look="icon"
							aria-label={words.front(overlay.name)}
							onclick={() => session.do({ type: 'moveOverlay', overlayId: overlay.id, at: at + 1 })}
							><ArrowDownOutline class="size-4" /></Button
						>
						<Button look="icon" aria-label={words.deleteIt(overlay.name)} onclick={() => remove(overlay)}
							><TrashBinOutline class="size-4" /></Button
						>
					</div>
					<p class="text-xs text-gray-300">{KINDS[overlay.kind]}</p>
					{#if overlay.kind === 'ticker'}
						<Textarea
							class={TEXTAREA}
							rows={3}
							maxlength={MOST_TEXT_LETTERS}
							aria-label={words.text(overlay.name)}
							value={overlay.text}
							onchange={({ currentTarget }) => change({ ...overlay, text: currentTarget.value })}
						></Textarea>
					{:else if overlay.kind === 'picture'}
						<ChoiceField
							label={words.pictureOf(overlay.name)}
							value={overlay.sourceId}
							choices={choicesAmong(withPicture)}
							onchange={(sourceId) => change({ ...overlay, sourceId })}
						/>
						{#each [['x', words.fromLeft], ['y', words.fromTop], ['width', words.width], ['height', words.height]] as const as [side, label] (side)}
							<NumberField
								{label}
								min={side === 'x' || side === 'y' ? -100 : 1}
								max={200}
								step={0.5}
								unit="%"
								value={Math.round(overlay.box[side] * 1000) / 10}
								onchange={(value) => change({ ...overlay, box: { ...overlay.box, [side]: value / 100 } })}
							/>
						{/each}
					{:else if overlay.kind === 'words'}
						<ChoiceField
							label={words.ground(overlay.name)}
							value={overlay.ground}
							choices={choicesOf(words.grounds)}
							onchange={(ground) => change({ ...overlay, ground })}
						/>
						<ChoiceField
							label={words.place(overlay.name)}
							value={overlay.place}
							choices={choicesOf(words.places)}
							onchange={(place) => change({ ...overlay, place })}
						/>
					{:else}
						<ChoiceField
							label={words.side(overlay.name)}
							value={overlay.side}
							choices={choicesOf({ left: words.atLeft, right: words.atRight })}
							onchange={(side) => change({ ...overlay, side })}
						/>
					{/if}
					<NumberField
						label={words.shown0UntilHidden}
						min={0}
						max={600}
						unit="s"
						value={overlay.showMs / 1000}
						onchange={(value) => change({ ...overlay, showMs: Math.round(value * 1000) })}
					/>
					<ChoiceField
						label={words.howComesIn(overlay.name)}
						value={overlay.move}
						choices={choicesOf({
							fade: words.fadesIn,
							rise: words.risesIn,
							slide: words.slidesIn,
							none: words.appearsAtOnce,
						})}
						onchange={(move) => change({ ...overlay, move })}
					/>
					<Fold title={overlay.reach === 'every' ? words.inEveryScene : words.inScenes(overlay.reach.length)}>
						<Checkbox
							checked={overlay.reach === 'every'}
							onchange={() => change({ ...overlay, reach: overlay.reach === 'every' ? [] : 'every' })}
							>{words.everyScene}</Checkbox
						>
						{#if overlay.reach !== 'every'}
							{#each show.setup.scenes as { id, name } (id)}
								{@const reach = overlay.reach}
								<Checkbox
									checked={reach.includes(id)}
									onchange={() =>
										change({
											...overlay,
											reach: reach.includes(id) ? reach.filter((each) => each !== id) : [...reach, id],
										})}>{name}</Checkbox
								>
							{/each}
						{/if}
					</Fold>
				</div>
			{/each}
			<div class="flex flex-wrap gap-1">
				<Button size="xs" onclick={() => add('lowerThird')}>{words.addLowerThird}</Button>
				<Button size="xs" onclick={() => add('ticker')}>{words.addTicker}</Button>
				<Button size="xs" onclick={() => add('words')}>{words.addWords}</Button>
				<Button size="xs" onclick={() => add('logo')}>{words.logo}</Button>
				<Button size="xs" onclick={() => add('frame')}>{words.frame}</Button>
			</div>
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.patchesOnProgram}</h3>
			{#each onProgram as patch (patch.id)}<PatchFields
					{patch}
					onchange={(changed) => session.do({ type: 'changePatch', patch: changed })}
				/>{/each}
			<Button size="xs" onclick={addPatch}>{words.addPatch}</Button>
			<p class="text-xs text-gray-300">{words.patchOnSourceInOwn}</p>
		</section>
	</div>
</Sheet>
