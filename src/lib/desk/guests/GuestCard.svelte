<script lang="ts">
	/** One guest: who, where, how their line does, and what can be done. */
	import { namingGuest } from '../../../core/show/guests/adding.ts';
	import { firstFreeSeat } from '../../../core/show/guests/commands.ts';
	import type { Guest } from '../../../core/show/guests/guest.ts';
	import { FOR_MUSIC, FOR_SPEECH, situationOf } from '../../../core/show/guests/guest.ts';
	import Messages from '../../guest/Messages.svelte';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import ChoiceMenu from '../../ui/ChoiceMenu.svelte';
	import type { Choice } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import TrackVideo from '../../ui/TrackVideo.svelte';
	import { guest as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';
	import { drag } from '../pictures/drag.ts';

	let { guest }: { guest: Guest } = $props();
	const session = useDesk();
	const show = $derived(session.state);
	const { id: guestId, name } = $derived(guest);
	const presence = $derived(session.show.guests.find(({ id }) => id === guestId));
	const channel = $derived(show.setup.channels.find(({ sourceId }) => sourceId === guest.seatId));
	const media = $derived(session.guestMedia.get(guestId));
	const situation = $derived(situationOf(show, guest));
	const seats = $derived(show.setup.sources.filter((source) => source.kind === 'seat'));
	const nameOf = (seatId: string | null) => seats.find(({ id }) => id === seatId)?.name ?? '';
	const free = $derived(firstFreeSeat(show));
	const isForMusic = $derived(!guest.treatment.echo && !guest.treatment.noise && !guest.treatment.level);

	const where = $derived.by(() => {
		if (presence && !presence.isThere) return words.gone;
		if (situation.is === 'waiting') return words.waits;
		if (guest.seatId === null) return words.inGreenRoom;
		return situation.is === 'onAir' ? words.onAirIn(nameOf(guest.seatId)) : words.inSeat(nameOf(guest.seatId));
	});
	const remarks = $derived(
		presence
			? [
					presence.hand && words.handIs,
					presence.muted && words.isMuted,
					presence.cameraOff && words.isCameraOff,
					presence.sharing && words.shares,
					presence.battery !== null && words.batteryIs(Math.round(100 * presence.battery)),
				].filter((each) => each !== false)
			: [],
	);
	/** What a guest's line does that anybody would notice. */
	const line = $derived.by(() => {
		const told = presence?.line;
		if (!told || !presence?.isThere) return '';
		if ((told.lost ?? 0) >= 0.03) return `▲ ${words.loses(name, Math.round(100 * told.lost!))}`;
		if ((told.roundTripMs ?? 0) >= 300) return `▲ ${words.slow(name, Math.round(told.roundTripMs!))}`;
		return words.goodLine;
	});

	const place = (seatId: string | null) => session.do({ type: 'placeGuest', guestId, seatId });
	const change = (part: object) => session.do({ type: 'changeGuest', guestId, ...part });
	const seatChoices = $derived<Choice<string>[]>([
		['', words.toGreenRoom],
		...seats
			.filter(({ shows, reservedFor }) => shows === 'camera' && (reservedFor === null || reservedFor === guestId))
			.map(({ id, name: seat }): Choice<string> => [id, seat]),
	]);
	const screenChoices = $derived<Choice<string>[]>([
		['', words.notShown],
		...seats.filter(({ shows }) => shows === 'screen').map(({ id, name: seat }): Choice<string> => [id, seat]),
	]);
	const COUNTS: Choice<string>[] = [5, 3, 1, 0.5].map((minutes) => [
		String(minutes * 60_000),
		minutes < 1 ? '30 s' : words.countInMinutes(minutes),
	]);
	function countIn(ms: string) {
		session.do({ type: 'countIn', guestId, at: session.show.now + Number(ms) });
	}
	function showName() {
		const naming = namingGuest(show, guest, newId());
		if (naming) session.doWithUndo(naming, words.nameIsShown(name));
		else session.notify(words.noLowerThird);
	}
	let removing = $state(false);
	function remove() {
		if (removing) session.do({ type: 'removeGuest', guestId });
		removing = !removing;
	}
</script>

<li
	class="grid gap-2 border-t border-slate-rule p-2 {guest.isIn ? '' : 'bg-gray-700'}"
	data-guest={guestId}
	draggable={guest.isIn}
	ondragstart={(event) => drag(event, { is: 'guest', id: guestId })}
>
	<div class="flex gap-2">
		{#if session.engine}<div class="aspect-video w-28 shrink-0 self-start bg-black">
				{#if media?.camera}
					{#key media.camera}
						<TrackVideo track={media.camera} label={words.pictureOf(name)} class="size-full" />
					{/key}
				{/if}
			</div>{/if}
		<div class="min-w-0 flex-1">
			<p class="truncate font-semibold" title={name}>{name}</p>
			<p
				class="text-sm {situation.is === 'onAir' ? 'bg-air px-1 font-bold text-white' : 'text-gray-300'}"
				role="status"
			>
				{where}
			</p>
			{#if remarks.length > 0}<p class="text-sm font-semibold text-lamp">{remarks.join(', ')}</p>{/if}
			{#if line}<p class="text-xs {line.startsWith('▲') ? 'font-semibold text-lamp' : 'text-gray-300'}">{line}</p>{/if}
			{#if presence?.records}<p class="text-xs text-gray-300">{words.recordsItself}</p>{/if}
		</div>
	</div>
	{#if !guest.isIn}
		<div class="flex flex-wrap gap-2">
			<Button look="main" size="sm" onclick={() => place(null)}>{words.letIn}</Button>
			{#if free !== null}<Button size="sm" onclick={() => place(free)}>{words.firstFree}</Button>{/if}
			<Button size="sm" onclick={remove}>{removing ? words.removeSure : words.turnAway}</Button>
		</div>
	{:else}
		<div class="flex flex-wrap items-center gap-2">
			<ChoiceField
				label={words.seat(name)}
				class="min-w-32 flex-1"
				value={guest.seatId ?? ''}
				choices={seatChoices}
				onchange={(seatId) => place(seatId === '' ? null : seatId)}
			/>
			{#if guest.seatId === null}
				{#if free !== null}<Button size="xs" onclick={() => place(free)}>{words.firstFree}</Button>{/if}
			{:else}
				<Button size="xs" lit="edge" aria-pressed={guest.seen} onpress={() => change({ seen: !guest.seen })}
					>{words.seen}</Button
				>
				<Button size="xs" lit="edge" aria-pressed={guest.heard} onpress={() => change({ heard: !guest.heard })}
					>{words.heard}</Button
				>
			{/if}
		</div>
		<div class="flex flex-wrap items-center gap-2">
			<Button
				size="xs"
				lit="air"
				aria-pressed={typeof session.talksTo === 'object' && session.talksTo?.guestId === guestId}
				hint={words.talkHint}
				disabled={!session.engine}
				onhold={(held) => void session.talk(held ? { guestId } : null)}>{words.talk}</Button
			>
			<Button size="xs" hint={words.nameShownHint} onclick={showName}>{words.nameShown}</Button>
			<ChoiceMenu label={words.countIn} title={words.countIn} class="w-28" choices={COUNTS} onchoose={countIn} />
		</div>
		<Fold title={words.more}>
			{#if presence?.sharing || guest.screenSeatId !== null}
				<ChoiceField
					label={words.screenOf(name)}
					value={guest.screenSeatId ?? ''}
					choices={screenChoices}
					onchange={(seatId) => session.do({ type: 'placeScreen', guestId, seatId: seatId === '' ? null : seatId })}
				/>
			{/if}
			<Messages
				said={presence?.said ?? []}
				own="crew"
				label={words.writeTo(name)}
				onsay={(text) => session.show.post({ type: 'guestSay', guestId, text })}
			/>
			<div class="flex flex-wrap gap-2">
				{#if guest.seatId !== null}
					{@const { seatId } = guest}
					<Button size="xs" hint={words.framingHint} onclick={() => session.sheet.editSource(seatId)}
						>{words.framing}</Button
					>
					{#if channel}
						<Button size="xs" hint={words.theirSoundHint} onclick={() => session.sheet.editChannel(channel.id)}
							>{words.theirSound}</Button
						>
					{/if}
				{/if}
				<Button
					size="xs"
					lit="edge"
					aria-pressed={isForMusic}
					hint={words.forMusicHint}
					onpress={() => change({ treatment: isForMusic ? FOR_SPEECH : FOR_MUSIC })}>{words.forMusic}</Button
				>
				<Button size="xs" hint={words.removeHint} onclick={remove}>{removing ? words.removeSure : words.remove}</Button>
			</div>
		</Fold>
	{/if}
</li>
