<script lang="ts">
	/** Everything about one channel, in the order in which it is done to the sound. */
	import { Checkbox } from 'flowbite-svelte';
	import {
		GROUPS,
		MOST_INPUTS,
		PRESETS,
		withPreset,
		type Band,
		type Channel,
		type Strip,
	} from '../../core/show/mix/mix.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf, type Choice } from '../ui/choices.ts';
	import Fold from '../ui/Fold.svelte';
	import NameField from '../ui/NameField.svelte';
	import Sheet from '../ui/Sheet.svelte';
	import SliderField from '../ui/SliderField.svelte';
	import { mix as words } from '../words/index.ts';
	import CompressorFields from './CompressorFields.svelte';
	import { signedDb } from './db-text.ts';
	import EqCurve from './EqCurve.svelte';
	import LipSync from './LipSync.svelte';

	interface Props {
		channel: Channel;
		onclose: () => void;
	}
	let { channel, onclose }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);

	const { strip } = $derived(channel);
	const change = (part: Partial<Channel>) => session.do({ type: 'changeChannel', channel: { ...channel, ...part } });
	const set = (part: Partial<Strip>) => change({ strip: { ...strip, ...part } });
	const setBand = (index: number, part: Partial<Band>) =>
		set({ eq: strip.eq.map((band, i) => (i === index ? { ...band, ...part } : band)) as Strip['eq'] });
	const gate = (part: Partial<Strip['gate']>) => set({ gate: { ...strip.gate, ...part } });

	function preset(name: (typeof PRESETS)[number]) {
		const command = { type: 'changeChannel' as const, channel: withPreset(channel, name) };
		session.doWithUndo(command, words.setUpAs(channel.name, name));
	}
	function remove() {
		const { id: channelId, name } = channel;
		if (session.doWithUndo({ type: 'removeChannel', channelId }, words.removed(name))) onclose();
	}

	const db = signedDb;
	const ms = (value: number) => `${value.toFixed(0)} ms`;
	/** Pitches are heard in octaves, so the slider moves in them. */
	const octave = (hz: number) => Math.log2(hz);
	const hzText = (hz: number) => (hz < 1000 ? `${hz.toFixed(0)} Hz` : `${(hz / 1000).toFixed(1)} kHz`);
	const WIDTH_NAMES = {
		stereo: words.stereo,
		mono: words.mono,
		left: words.leftOnBoth,
		right: words.rightOnBoth,
		swap: words.sidesSwapped,
	} as const;
	const FOLLOW_NAMES = {
		always: words.alwaysHeard,
		onAir: words.heardWhilePictureShown,
		press: words.heardWhileYouHoldButton,
		off: words.neverHeard,
	} as const;
	/** Offered, so that the same thing has the same name at each event. */
	const NAMES = [
		words.lectern,
		words.handheld,
		words.headset,
		words.choir,
		words.soloist,
		words.piano,
		words.organ,
		words.guitar,
		words.band,
		words.computer,
		words.room,
	];
	const INPUTS = Array.from({ length: MOST_INPUTS }, (_, i): Choice<number> => [i, String(i + 1)]);
	const BAND_NAMES = { lowShelf: words.low, peak: words.bell, highShelf: words.high } as const;
	const heard = $derived(session.heard?.channels.find(({ id }) => id === channel.id) ?? null);
</script>

<Sheet title={channel.name} {onclose}>
	<div class="grid gap-4">
		<div class="flex gap-1">
			<NameField
				class="font-semibold"
				label={words.nameChannel}
				list="channel-names"
				value={channel.name}
				onchange={(name) => change({ name })}
			/>
			<datalist id="channel-names">
				{#each NAMES as name (name)}<option value={name}></option>{/each}
			</datalist>
			<Button size="xs" onclick={remove}>{words.remove}</Button>
		</div>
		<section class="grid gap-1">
			<h3 class="font-semibold">{words.what}</h3>
			<div class="grid grid-cols-2 gap-1">
				{#each PRESETS as name (name)}
					<Button size="xs" onclick={() => preset(name)}>{name}</Button>
				{/each}
			</div>
			<p class="text-xs text-gray-300">{words.setsFiltersDynamicsGroupFader}</p>
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.whenHeard}</h3>
			<ChoiceField
				label={words.whenHeard}
				value={channel.follow}
				choices={choicesOf(FOLLOW_NAMES)}
				onchange={(follow) => change({ follow })}
			/>
			{#if channel.follow === 'onAir'}
				<ChoiceField
					label={words.whosePictureFollows}
					value={channel.followed ?? channel.sourceId}
					choices={show.setup.sources.map(({ id, name }) => [id, words.picture(name)])}
					onchange={(followed) => change({ followed })}
				/>
			{/if}
			<ChoiceField
				label={words.group}
				value={channel.group}
				choices={[[null, words.inNoGroup], ...GROUPS.map((group) => [group, words.groupIs(group)] as const)]}
				onchange={(group) => change({ group })}
			/>
			<Checkbox checked={channel.ducked} onchange={() => change({ ducked: !channel.ducked })}
				>{words.dipsWhileSomebodySpeaks}</Checkbox
			>
			<Checkbox checked={channel.shares} onchange={() => change({ shares: !channel.shares })}
				>{words.sharesGainWithOtherMicrophones}</Checkbox
			>
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.inputLevel}</h3>
			<div class="flex items-center gap-1">
				<span class="text-gray-300">{words.input}</span>
				{#each channel.inputs as input, side (side)}
					<ChoiceField
						class="w-16"
						label={channel.inputs.length === 1 ? words.input : side === 0 ? words.leftInput : words.rightInput}
						value={input}
						choices={INPUTS}
						onchange={(chosen) => change({ inputs: channel.inputs.with(side, chosen) })}
					/>
				{/each}
				<Button
					size="xs"
					onclick={() =>
						change({
							inputs:
								channel.inputs.length === 1
									? [channel.inputs[0]!, Math.min(MOST_INPUTS - 1, channel.inputs[0]! + 1)]
									: [channel.inputs[0]!],
						})}>{channel.inputs.length === 1 ? words.makePair : words.oneInput}</Button
				>
			</div>
			<SliderField
				label={words.trim}
				min={-24}
				max={24}
				step={0.5}
				neutral={0}
				value={strip.trimDb}
				text={db(strip.trimDb)}
				onchange={(trimDb) => set({ trimDb })}
			/>
			<SliderField
				label={words.delay}
				min={0}
				max={1000}
				step={1}
				neutral={0}
				value={strip.delayMs}
				text={ms(strip.delayMs)}
				onchange={(delayMs) => set({ delayMs })}
			/>
			<Checkbox checked={strip.inverted} onchange={() => set({ inverted: !strip.inverted })}
				>{words.invertPolarity}</Checkbox
			>
		</section>

		<LipSync {channel} />

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.tone}</h3>
			<EqCurve {strip} />
			<SliderField
				label={words.cutRumbleBelow}
				min={0}
				max={400}
				step={5}
				neutral={0}
				value={strip.highPassHz}
				text={strip.highPassHz === 0 ? words.off : hzText(strip.highPassHz)}
				onchange={(highPassHz) => set({ highPassHz })}
			/>
			{#each strip.eq as band, i (i)}
				<Fold
					title={words.bandIs(i + 1, band.gainDb === 0 ? words.off : words.bandAt(db(band.gainDb), hzText(band.hz)))}
				>
					<ChoiceField
						label={words.shapeBand(i + 1)}
						value={band.shape}
						choices={choicesOf(BAND_NAMES)}
						onchange={(shape) => setBand(i, { shape })}
					/>
					<SliderField
						label={words.gain}
						min={-18}
						max={18}
						step={0.5}
						neutral={0}
						value={band.gainDb}
						text={db(band.gainDb)}
						onchange={(gainDb) => setBand(i, { gainDb })}
					/>
					<SliderField
						label={words.frequency}
						min={octave(20)}
						max={octave(20_000)}
						value={octave(band.hz)}
						text={hzText(band.hz)}
						onchange={(at) => setBand(i, { hz: Math.min(20_000, Math.max(20, 2 ** at)) })}
					/>
					<SliderField
						label={words.narrownessQ}
						min={0.1}
						max={10}
						step={0.1}
						neutral={1}
						value={band.q}
						text={band.q.toFixed(1)}
						onchange={(q) => setBand(i, { q })}
					/>
				</Fold>
			{/each}
		</section>

		<section class="grid gap-1">
			<Checkbox classes={{ div: 'font-semibold' }} checked={strip.gate.on} onchange={() => gate({ on: !strip.gate.on })}
				>{words.gateQuieterWhenNobodySpeaks}</Checkbox
			>
			{#if strip.gate.on}
				<SliderField
					label={words.below}
					min={-80}
					max={0}
					step={1}
					value={strip.gate.thresholdDb}
					text={db(strip.gate.thresholdDb)}
					onchange={(thresholdDb) => gate({ thresholdDb })}
				/>
				<SliderField
					label={words.by}
					min={0}
					max={60}
					step={1}
					value={strip.gate.depthDb}
					text={words.minusDb(strip.gate.depthDb)}
					onchange={(depthDb) => gate({ depthDb })}
				/>
			{/if}
			<CompressorFields
				compressor={strip.compressor}
				nowDb={heard?.compressorDb ?? null}
				onchange={(compressor) => set({ compressor })}
			/>
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.position}</h3>
			<SliderField
				label={words.leftRight}
				min={-1}
				max={1}
				step={0.05}
				neutral={0}
				value={strip.pan}
				text={strip.pan === 0
					? 'middle'
					: `${Math.abs(Math.round(strip.pan * 100))} % ${strip.pan < 0 ? 'left' : 'right'}`}
				onchange={(pan) => set({ pan })}
			/>
			<ChoiceField
				label={words.sides}
				value={strip.width}
				choices={choicesOf(WIDTH_NAMES)}
				onchange={(width) => set({ width })}
			/>
		</section>
	</div>
</Sheet>
