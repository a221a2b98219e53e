<script lang="ts">
	import { formatDistanceToNowStrict } from 'date-fns';
	import { onMount } from 'svelte';
	import { apartWords } from '../../core/sound/apart.ts';
	import { echoWords } from '../../core/sound/echo.ts';
	import { channelFaultWords, loudnessWords, mixFaultWords } from '../../core/sound/sound-health.ts';
	import { canJudgeLoudness } from '../mix/listening.svelte.ts';
	import { holdingCard } from '../../core/show/delivery/delivery.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import { durationOf, rateOf } from '../ui/format.ts';
	import { Alarm, isQuiet, setQuiet } from './alarm.ts';
	import type { DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
		/** True where somebody has only the sound to care for. */
		onlySound?: boolean;
	}
	let { session, show, onlySound = false }: Props = $props();

	/** One process cannot take more than one core; before that it is late. */
	const BUSY_CORES = 0.8;
	const LITTLE_ROOM_S = 30 * 60;

	interface Trouble {
		key: string;
		text: string;
		act?: { name: string; do: () => void };
		/** Viewers get less than they should, or it will be missing afterwards: worth an alarm. */
		grave?: boolean;
	}

	let now = $state(Date.now());
	$effect(() => {
		const timer = setInterval(() => (now = Date.now()), 1000);
		return () => clearInterval(timer);
	});
	const since = (at: number) => (void now, formatDistanceToNowStrict(at));

	const troubles = $derived.by(() => {
		const list: Trouble[] = [];
		const { status, connected } = session.show;
		if (!connected)
			list.push({
				key: 'server',
				text: 'The desk cannot reach the server. It tries again by itself; your changes are kept.',
				grave: true,
			});
		if (session.isWatching && !onlySound)
			list.push({
				key: 'watching',
				text: 'Another tab makes the program of this event. Here you can watch and switch.',
				act: { name: 'Make the program here', do: () => session.takeOver() },
			});
		if (session.needsPress)
			list.push({
				key: 'press',
				text: 'The browser holds sound and picture back until you press something on this page.',
				act: { name: 'Start sound and picture', do: () => void session.wake() },
			});
		const { machine, ...stopping } = session.troubles;
		for (const [part, text] of Object.entries(stopping)) if (text) list.push({ key: part, text });
		if (status && !status.stored)
			list.push({
				key: 'stored',
				text: 'The database does not take changes. They are kept and written when it is back.',
			});
		if (session.onAir && status && status.serverCores > BUSY_CORES)
			list.push({
				key: 'server',
				text: `The server is busy: it takes ${Math.round(100 * status.serverCores)} % of a core. Close other programs on its machine, or untick a destination next time.`,
			});
		if (session.onAir && status?.recording.phase === 'failed')
			list.push({ key: 'record', text: status.recording.reason, grave: true });
		const stopped = Map.groupBy(
			(session.onAir && status?.recording.tracks.filter(({ phase }) => phase === 'failed')) || [],
			({ reason }) => reason,
		);
		for (const [reason, tracks] of stopped)
			list.push({
				key: `apart ${reason}`,
				text: `${tracks.map(({ name }) => name).join(', ')}: no longer recorded apart. ${reason}`,
			});
		if (
			status &&
			show.setup.delivery.records &&
			status.recording.roomS !== null &&
			status.recording.roomS < LITTLE_ROOM_S
		)
			list.push({
				key: 'disk',
				text: `The server’s disk has room for ${durationOf(status.recording.roomS)} of recording. Move or delete old recordings.`,
			});
		if (session.onAir && status && status.holdingSince !== null)
			list.push({
				key: 'holding',
				text: `Viewers see the card “${holdingCard(show.setup).name}”: nothing has come from the desk for ${since(status.holdingSince - session.show.clockOffsetMs)}. The program returns by itself when it is back; without it the broadcast ends after ${show.setup.delivery.holdMinutes} min.`,
				grave: true,
			});
		else if (session.onAir && status && !status.receiving)
			list.push({ key: 'receiving', text: 'The server gets no program. Viewers see nothing new.', grave: true });
		for (const [i, { kbps, plannedKbps }] of ((session.onAir && status?.rates) || []).entries())
			if (kbps < plannedKbps)
				list.push({
					key: `rate ${i}`,
					text: `The line is too slow now, so the picture takes ${rateOf(kbps)} instead of ${rateOf(plannedKbps)}. It comes back by itself.`,
				});
		for (const { id, phase, reason, since: at, audience } of status?.destinations ?? []) {
			const name = show.setup.destinations.find((destination) => destination.id === id)?.name ?? id;
			const retry = { name: 'Try again now', do: () => session.show.post({ type: 'retry', destinationId: id }) };
			if (audience?.public === false)
				list.push({
					key: id,
					text: `${name} gets the stream, but shows it to nobody yet.`,
					act: { name: 'Make it public', do: () => session.show.post({ type: 'makePublic', destinationId: id }) },
				});
			if (phase === 'refused')
				list.push({ key: id, text: `${name} refuses the stream: ${reason}`, act: retry, grave: true });
			if (phase === 'lost')
				list.push({
					key: id,
					text: `${name} is lost for ${since(at)}: ${reason} It is tried again by itself.`,
					act: retry,
					grave: true,
				});
		}
		for (const { id, name, kind } of show.setup.sources) {
			if (onlySound && kind !== 'sound') continue;
			const condition = session.conditions.get(id);
			if (!condition || condition.reason === '') continue;
			// A device is named as its maker does.
			const whose = condition.reason.includes(name) ? 'For' : `${name}, for`;
			list.push({ key: id, text: `${whose} ${since(condition.since)}: ${condition.reason}` });
		}
		const { heard } = session;
		for (const fault of heard?.mix.faults ?? [])
			list.push({ key: `mix ${fault}`, text: mixFaultWords(fault, heard!.mix.side), grave: fault === 'silent' });
		for (const { id, faults, side } of heard?.channels ?? []) {
			const channel = show.setup.channels.find((each) => each.id === id);
			for (const fault of channel ? faults : []) {
				// What is put to one side on purpose is on one side; a microphone alone has no sides.
				const hasSides = channel!.inputs.length === 2 && Math.abs(channel!.strip.pan) < 0.5;
				if ((fault === 'oneSide' || fault === 'outOfPhase') && !hasSides) continue;
				if (fault === 'silent') continue;
				list.push({ key: `${id} ${fault}`, text: channelFaultWords(channel!.name, fault, side) });
			}
		}
		const nameOf = (id: string) => [...show.setup.channels, ...show.setup.sources].find((each) => each.id === id)?.name;
		const echo = echoWords((heard?.echo ?? []).map(nameOf).filter((name) => name !== undefined));
		if (echo) list.push({ key: 'echo', text: echo });
		for (const { channelId, sourceId, beforeMs } of heard?.apart ?? []) {
			const [channel, camera] = [nameOf(channelId), nameOf(sourceId)];
			if (channel && camera) list.push({ key: `apart ${channelId}`, text: apartWords(channel, camera, beforeMs) });
		}
		const loud =
			heard && canJudgeLoudness(show, now) && loudnessWords(heard.mix.integrated, show.setup.mix.master.targetLufs);
		if (loud) list.push({ key: 'loudness', text: loud });
		// Nothing is lost by it yet.
		if (machine) list.push({ key: 'machine', text: machine });
		return list.toSorted((a, b) => Number(b.grave ?? false) - Number(a.grave ?? false));
	});

	/** Nothing on the page moves from under a finger: lines come and go when it is lifted. */
	let pressed = $state(false);
	/** After the click that the lifting makes. */
	const lift = () => setTimeout(() => (pressed = false));
	let shown = $state.raw<Trouble[]>([]);
	$effect(() => {
		if (!pressed) shown = troubles;
	});

	/** One at a time calls. */
	const grave = $derived(session.onAir && !onlySound ? troubles.find((trouble) => trouble.grave) : undefined);
	let quiet = $state(false);
	let alarm = $state.raw<Alarm | null>(null);
	onMount(() => {
		quiet = isQuiet();
		alarm = new Alarm();
		return () => alarm?.close();
	});
	$effect(() => alarm?.raise(grave?.key ?? '', grave?.text ?? ''));
</script>

<svelte:window
	onpointerdowncapture={() => (pressed = true)}
	onpointerupcapture={lift}
	onpointercancelcapture={lift}
	onblur={lift}
/>

<!-- The first line has its place also while there is none, so that the desk stays where it is. -->
{#if shown.length === 0}
	<p class="flex h-10 items-center border-b border-l-8 border-slate-rule border-l-transparent px-3 text-gray-300">
		{onlySound ? 'Nothing is wrong with the sound.' : 'Nothing is wrong.'}
	</p>
{/if}
<div role="alert">
	<!-- Pictures need the room: several stand side by side, and what is cut shows that there is more. -->
	<ul class="grid max-h-[6.25rem] overflow-y-auto {shown.length > 1 ? 'sm:grid-cols-2' : ''}">
		{#each shown as { key, text, act } (key)}
			<li
				class="flex min-h-10 items-center gap-3 last:odd:col-span-full border-b border-slate-rule border-l-8 border-l-lamp bg-gray-700 px-3 font-semibold"
				data-trouble={key}
			>
				<span class="flex-1 {shown.length > 1 ? 'text-sm leading-tight' : ''}">{text}</span>
				{#if key === grave?.key}
					<button
						class="act my-1 py-1 text-sm"
						aria-pressed={quiet}
						title="The alarm is heard on this machine only"
						onclick={() => setQuiet((quiet = !quiet))}>{quiet ? 'Alarm is silent' : 'Silence the alarm'}</button
					>
				{/if}
				{#if act}<button class="act my-1 py-1 text-sm" onclick={act.do}>{act.name}</button>{/if}
			</li>
		{/each}
	</ul>
</div>
