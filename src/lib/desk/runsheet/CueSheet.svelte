<script lang="ts">
	/** Everything of one line of the run sheet. */
	import { Checkbox, Label, Textarea } from 'flowbite-svelte';
	import { MOST_TEXT_LETTERS } from '../../../core/show/basics.ts';
	import { canStart, isClip } from '../../../core/show/clips/source.ts';
	import type { Cue, Follow } from '../../../core/show/runsheet/cue.ts';
	import { isSheetLocked } from '../../../core/show/runsheet/order.ts';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong, type Choice } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import NameField from '../../ui/NameField.svelte';
	import NumberField from '../../ui/NumberField.svelte';
	import Sheet from '../../ui/Sheet.svelte';
	import { TEXTAREA } from '../../ui/theme.ts';
	import TimeField from '../../ui/TimeField.svelte';
	import { runsheet as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	interface Props {
		cue: Cue;
	}
	let { cue }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);
	const clips = $derived(show.setup.sources.filter(isClip));
	const locked = $derived(isSheetLocked(show));
	const place = $derived(show.setup.cues.findIndex(({ id }) => id === cue.id));

	const change = (part: Partial<Cue>) => session.changeSheet({ type: 'changeCue', cue: { ...cue, ...part } });
	const NO_MIX = { snapshotId: null, fadeMs: 1000, mute: [], unmute: [] };
	const changeMix = (part: Partial<NonNullable<Cue['mix']>>) => {
		const mix = { ...(cue.mix ?? NO_MIX), ...part };
		change({ mix: mix.snapshotId === null && mix.mute.length + mix.unmute.length === 0 ? null : mix });
	};
	const toggled = (list: readonly string[], id: string) =>
		list.includes(id) ? list.filter((each) => each !== id) : [...list, id];

	function setFollow(by: Follow['by']) {
		if (by === 'go') change({ follow: { by } });
		else if (by === 'after') change({ follow: { by, ms: 10_000 } });
		else if (by === 'clock') change({ follow: { by, time: '' } });
		else if (by === 'clip') change({ follow: { by, sourceId: clipOfScene ?? clips[0]!.id } });
		else change({ follow: { by, sceneIds: [cue.sceneId ?? show.setup.scenes[0]!.id], everyMs: 10_000, variesMs: 0 } });
	}
	const clipOfScene = $derived.by(() => {
		const layers = show.setup.scenes.find(({ id }) => id === cue.sceneId)?.layers ?? [];
		return layers.find(({ sourceId }) => clips.some(({ id }) => id === sourceId))?.sourceId ?? null;
	});
	const follows = $derived<Choice<Follow['by']>[]>([
		['go', words.byGo],
		['after', words.byAfter],
		['clock', words.byClock],
		['clip', words.byClip, clips.length > 0],
		['rotation', words.byRotation, show.setup.scenes.length > 0],
	]);
	const scenes = $derived<Choice<string | null>[]>([
		[null, words.sceneStays],
		...show.setup.scenes.map(({ id, name }): Choice<string | null> => [id, name]),
	]);
	const snapshots = $derived<Choice<string | null>[]>([
		[null, words.mixStays],
		...show.setup.mix.snapshots.map(({ id, name }): Choice<string | null> => [id, name]),
	]);

	/** What is done with words: they stay, go, or the song of an id begins. */
	const SONG = 'song:';
	const brought = $derived(cue.words === null ? 'stay' : cue.words.itemId === null ? 'away' : SONG + cue.words.itemId);
	const songs = $derived<Choice<string>[]>([
		['stay', words.wordsStay],
		['away', words.wordsAway],
		...show.setup.words.items.map(({ id, song }): Choice<string> => [SONG + id, song.title]),
	]);
	const setWords = (value: string) =>
		change({
			words: value === 'stay' ? null : { itemId: value === 'away' ? null : value.slice(SONG.length) },
		});

	function copy() {
		const id = newId();
		const name = words.copyOf(cue.name).slice(0, 120);
		if (session.changeSheet({ type: 'addCue', cue: { ...cue, id, name }, at: place + 1 })) session.sheet.editCue(id);
	}
	function remove() {
		session.changeSheet({ type: 'removeCue', cueId: cue.id }, words.removed(cue.name));
	}
	const moveTo = (at: number) => session.changeSheet({ type: 'moveCue', cueId: cue.id, at });
	const TIMES = [
		['lengthMs', words.length],
		['limitMs', words.limit],
	] as const;
	const minutesOf = (ms: number) => Math.round(ms / 600) / 100;
</script>

<Sheet title={words.line} onclose={() => session.sheet.close()} onundo={() => session.undoSheet()}>
	{#if locked}
		<p class="mb-2 flex items-center gap-2">
			<span class="flex-1">{words.locked}</span>
			<Button size="sm" hint={words.unlockHint} onclick={() => session.do({ type: 'unlockSheet', unlocked: true })}
				>{words.unlock}</Button
			>
		</p>
	{/if}
	<fieldset class="grid gap-3" disabled={locked}>
		<NameField label={words.what} value={cue.name} onchange={(name) => change({ name })} />
		<div class="flex gap-3">
			<Checkbox checked={cue.heading} onchange={() => change({ heading: !cue.heading })}>{words.heading}</Checkbox>
			<Checkbox checked={cue.skipped} onchange={() => change({ skipped: !cue.skipped })}>{words.skip}</Checkbox>
		</div>
		{#if !cue.heading}
			<Label class="grid gap-1">
				<span class="font-semibold">{words.scene}</span>
				<ChoiceField value={cue.sceneId} choices={scenes} onchange={(sceneId) => change({ sceneId })} />
			</Label>
			<div class="grid gap-1">
				<TimeField label={words.begins} value={cue.plannedAt} onchange={(plannedAt) => change({ plannedAt })} />
				{#each TIMES as [time, label] (time)}
					<NumberField
						{label}
						min={0}
						max={1440}
						step={0.5}
						unit={words.minutes}
						value={minutesOf(cue[time] ?? 0)}
						onchange={(value) => change({ [time]: value === 0 ? null : Math.round(value * 60_000) })}
					/>
				{/each}
			</div>
			<section class="grid gap-1">
				<h3 class="font-semibold">{words.follow}</h3>
				<ChoiceField label={words.follow} value={cue.follow.by} choices={follows} onchange={setFollow} />
				{#if cue.follow.by === 'after'}
					<NumberField
						label={words.afterTime}
						min={0.1}
						max={86_400}
						step={0.5}
						unit={words.seconds}
						value={cue.follow.ms / 1000}
						onchange={(value) => change({ follow: { by: 'after', ms: Math.round(value * 1000) } })}
					/>
				{:else if cue.follow.by === 'clock'}
					<TimeField
						label={words.atTime}
						value={cue.follow.time}
						onchange={(time) => change({ follow: { by: 'clock', time } })}
					/>
				{:else if cue.follow.by === 'clip'}
					<ChoiceField
						label={words.clip}
						value={cue.follow.sourceId}
						choices={choicesAmong(clips)}
						onchange={(sourceId) => change({ follow: { by: 'clip', sourceId } })}
					/>
				{:else if cue.follow.by === 'rotation'}
					{@const rotation = cue.follow}
					<NumberField
						label={words.every}
						min={1}
						max={3600}
						unit={words.seconds}
						value={rotation.everyMs / 1000}
						onchange={(value) => change({ follow: { ...rotation, everyMs: Math.round(value * 1000) } })}
					/>
					<NumberField
						label={words.varies}
						min={0}
						max={1800}
						unit={words.seconds}
						value={rotation.variesMs / 1000}
						onchange={(value) => change({ follow: { ...rotation, variesMs: Math.round(value * 1000) } })}
					/>
					{#each show.setup.scenes as { id, name } (id)}
						<Checkbox
							checked={rotation.sceneIds.includes(id)}
							disabled={rotation.sceneIds.length === 1 && rotation.sceneIds[0] === id}
							aria-label={words.takesTurns(name)}
							onchange={() => change({ follow: { ...rotation, sceneIds: toggled(rotation.sceneIds, id) } })}
							>{name}</Checkbox
						>
					{/each}
				{/if}
				<Checkbox
					checked={cue.endsBroadcast}
					disabled={cue.follow.by === 'go' || cue.follow.by === 'rotation'}
					onchange={() => change({ endsBroadcast: !cue.endsBroadcast })}>{words.ends}</Checkbox
				>
			</section>
			<Fold title={words.plays}>
				{#each show.setup.sources.filter(canStart) as { id, name, kind } (id)}
					<Checkbox checked={cue.plays.includes(id)} onchange={() => change({ plays: toggled(cue.plays, id) })}
						>{kind === 'clock' ? words.startsClock(name) : words.playsFromStart(name)}</Checkbox
					>
				{:else}<p class="text-gray-300">{words.noClips}</p>{/each}
			</Fold>
			<Fold title={words.shows}>
				{#each show.setup.overlays as { id, name } (id)}
					<Checkbox
						checked={cue.shows.some(({ overlayId }) => overlayId === id)}
						onchange={() =>
							change({
								shows: cue.shows.some(({ overlayId }) => overlayId === id)
									? cue.shows.filter(({ overlayId }) => overlayId !== id)
									: [...cue.shows, { overlayId: id }],
							})}>{words.showOverlay(name)}</Checkbox
					>
					<Checkbox checked={cue.hides.includes(id)} onchange={() => change({ hides: toggled(cue.hides, id) })}
						>{words.hideOverlay(name)}</Checkbox
					>
				{/each}
			</Fold>
			<Label class="grid gap-1">
				<span class="font-semibold">{words.words}</span>
				<ChoiceField value={brought} choices={songs} onchange={setWords} />
			</Label>
			<Fold title={words.sound}>
				<ChoiceField
					label={words.snapshot}
					value={cue.mix?.snapshotId ?? null}
					choices={snapshots}
					onchange={(snapshotId) => changeMix({ snapshotId })}
				/>
				{#each show.setup.channels as { id, name } (id)}
					<div class="flex justify-between gap-2">
						<Checkbox
							checked={cue.mix?.mute.includes(id) ?? false}
							onchange={() => changeMix({ mute: toggled(cue.mix?.mute ?? [], id) })}>{words.mute(name)}</Checkbox
						>
						<Checkbox
							checked={cue.mix?.unmute.includes(id) ?? false}
							onchange={() => changeMix({ unmute: toggled(cue.mix?.unmute ?? [], id) })}>{words.unmute(name)}</Checkbox
						>
					</div>
				{/each}
			</Fold>
			<Label class="grid gap-1">
				<span class="font-semibold">{words.note}</span>
				<Textarea
					class={TEXTAREA}
					rows={2}
					maxlength={MOST_TEXT_LETTERS}
					placeholder={words.notePlace}
					value={cue.note}
					onchange={({ currentTarget }) => change({ note: currentTarget.value })}
				></Textarea>
			</Label>
		{/if}
		<div class="grid grid-cols-4 gap-1">
			<Button size="xs" disabled={place === 0} onclick={() => moveTo(place - 1)}>{words.up}</Button>
			<Button size="xs" disabled={place === show.setup.cues.length - 1} onclick={() => moveTo(place + 1)}
				>{words.down}</Button
			>
			<Button size="xs" onclick={copy}>{words.copy}</Button>
			<Button size="xs" onclick={remove}>{words.remove}</Button>
		</div>
	</fieldset>
</Sheet>
