<script lang="ts">
	/** Measures by how much a channel must wait, and offers to set it. */
	import { Select } from 'flowbite-svelte';
	import type { Channel } from '../../core/show/mix/mix.ts';
	import { kindOf } from '../../core/show/sources/source.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import TimedBar from '../ui/TimedBar.svelte';
	import type { Advice } from '../words/en/lip-sync-advice.ts';
	import { delayAdvice, mix as words } from '../words/index.ts';
	import { problemWords } from '../words/problem.ts';

	interface Props {
		channel: Channel;
	}
	let { channel }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);

	/** Longest part of a measurement, seconds; for the progress shown. */
	let lasts = $state(0);
	let advice = $state.raw<Advice | null>(null);
	const others = $derived(show.setup.channels.filter(({ id }) => id !== channel.id));
	const cameras = $derived(show.setup.sources.filter((source) => kindOf(source).showsLips));

	async function measure(against: string) {
		const { engine } = session;
		const [kind, id] = against.split(' ') as ['channel' | 'source', string];
		if (!engine || lasts > 0) return;
		advice = null;
		try {
			const { CLAP_S, SOUNDS_S, measureClap, measureSounds } = await import('../../engine/lip-sync.ts');
			lasts = kind === 'channel' ? SOUNDS_S : CLAP_S;
			const found =
				kind === 'channel' ? await measureSounds(engine, channel.id, id) : await measureClap(engine, channel.id, id);
			const other = [...show.setup.channels, ...show.setup.sources].find((each) => each.id === id)!;
			const set = kind === 'channel' ? show.setup.channels.find((each) => each.id === id)!.strip.delayMs : 0;
			advice = delayAdvice(found, channel, other.name, set);
			if (!('refused' in found) && advice.delayMs === null) tellMeasured();
		} catch (error) {
			advice = { says: problemWords(error), delayMs: null };
		} finally {
			lasts = 0;
		}
	}
	/** What it came to is news; it is not left below the edge. */
	const reveal = (node: HTMLElement) => void node.parentElement?.scrollIntoView({ block: 'nearest' });

	/** For the line check. */
	const tellMeasured = () => session.show.post({ type: 'measured', channelId: channel.id });
	function set(delayMs: number) {
		const command = { type: 'changeChannel' as const, channel: { ...channel, strip: { ...channel.strip, delayMs } } };
		if (!session.doWithUndo(command, words.waitsMs(channel.name, delayMs))) return;
		tellMeasured();
		advice = null;
	}
</script>

<section class="grid gap-1">
	<h3 class="font-semibold">{words.lipSync}</h3>
	{#if !session.engine}
		<p class="text-xs text-gray-300">{words.measuredOnDeskMakesProgram}</p>
	{:else if lasts > 0}
		<TimedBar label={words.listeningS(lasts)} seconds={lasts} />
	{:else}
		<Select
			size="sm"
			placeholder=""
			aria-label={words.measureDelay}
			onchange={({ currentTarget }) => {
				void measure(currentTarget.value);
				currentTarget.value = '';
			}}
		>
			<option value="" disabled selected>{words.measureDelayMenu}</option>
			<optgroup label={words.byClapInFront}>
				{#each cameras as { id, name } (id)}<option value="source {id}">{name}</option>{/each}
			</optgroup>
			<optgroup label={words.sameSoundInAnotherChannel}>
				{#each others as { id, name } (id)}<option value="channel {id}">{name}</option>{/each}
			</optgroup>
		</Select>
		<p class="text-xs text-gray-300">
			{words.somebodyClapThreeTimesSecond}
		</p>
	{/if}
	{#if advice}
		<p role="status" class="border-l-4 border-lamp pl-2" {@attach reveal}>{advice.says}</p>
		{#if advice.delayMs !== null}
			{@const { delayMs } = advice}
			<Button size="sm" onclick={() => set(delayMs)}>{words.setDelayMs(delayMs)}</Button>
		{/if}
	{/if}
</section>
