<script lang="ts">
	/** How the event is sent: what the line carries, what that makes of the picture, and what viewers see in trouble. */
	import { format } from 'date-fns';
	import { Checkbox, Label } from 'flowbite-svelte';
	import { judgeLine, planDelivery, type Delivery } from '../../../core/show/delivery/delivery.ts';
	import { MOST_PICTURE_TRACKS, planTracks } from '../../../core/show/delivery/tracks.ts';
	import { kindOf } from '../../../core/show/sources/source.ts';
	import MachineVerdict from '../../machine/MachineVerdict.svelte';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesAmong } from '../../ui/choices.ts';
	import Fold from '../../ui/Fold.svelte';
	import NumberField from '../../ui/NumberField.svelte';
	import Sheet from '../../ui/Sheet.svelte';
	import TimedBar from '../../ui/TimedBar.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { durationOf, rateOf } from '../../words/index.ts';
	import { delivery as words, deliveryReason, deliveryWarning } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	const session = useDesk();
	const show = $derived(session.state);

	/** Three runs of two seconds, and what lies between them. */
	const MEASURES_S = 7;
	const { delivery } = $derived(show.setup);
	const { lines } = $derived(show.live);
	const plan = $derived(planDelivery(show));
	const newest = $derived(lines.at(-1) ?? null);
	const roomS = $derived(session.show.status?.recording.roomS ?? null);
	const cards = $derived(show.setup.sources.filter((source) => kindOf(source).canHold));
	const pictures = $derived(show.setup.sources.filter((source) => kindOf(source).isLive));
	const tracks = $derived(planTracks(show.setup));
	const apartCount = $derived(tracks.length);
	const pictureTracks = $derived(tracks.filter((track) => track.kind === 'source'));
	const MOST = { sourceIds: MOST_PICTURE_TRACKS, channelIds: 32 } as const;
	const chosen = (key: keyof typeof MOST, list: readonly { id: string }[]) =>
		list.filter(({ id }) => delivery.apart[key].includes(id)).length;
	const toggled = (list: readonly string[], id: string) =>
		list.includes(id) ? list.filter((each) => each !== id) : [...list, id];
	let measuring = $state(false);
	let problem = $state('');

	function change(part: Partial<Delivery>) {
		session.do({ type: 'setDelivery', delivery: { ...delivery, ...part } });
	}
	async function measure() {
		measuring = true;
		problem = '';
		const result = await askServer(`/api/events/${session.eventId}/line`, 'POST', {});
		measuring = false;
		problem = 'problem' in result ? result.problem : '';
	}
	const runs = (list: readonly number[]) => list.map((kbps) => (kbps / 1000).toFixed(1)).join(', ');
</script>

<Sheet title={words.howSent} onclose={() => session.sheet.close()}>
	<div class="grid gap-4">
		<section class="grid gap-1">
			<h3 class="font-semibold">{words.line}</h3>
			{#if newest}
				{@const { kbps, steady } = judgeLine(newest)}
				<p>
					<span class="figures text-xl font-semibold">{rateOf(kbps)}</span>
					{steady ? words.upload : words.unsteadyUpload}
				</p>
				<p class="text-xs text-gray-300">
					{words.measuredAt(format(newest.at, 'd MMM, HH:mm'), runs(newest.runsKbps))}
					{#if !steady}{words.runsDisagreeLowestCountsSomebody}{/if}
				</p>
			{:else}
				<p class="text-gray-300">{words.notMeasuredYet}</p>
			{/if}
			{#if measuring}
				<TimedBar label={words.sendingS(MEASURES_S)} seconds={MEASURES_S} />
			{:else}
				<Button disabled={session.isOnAir} onclick={measure}>{words.measureLine}</Button>
				{#if session.isOnAir}<p class="text-xs text-gray-300">{words.broadcastNeedsWholeLineNow}</p>{/if}
			{/if}
			{#if problem}<Warning urgent>{problem}</Warning>{/if}
			{#if lines.length > 1}
				<Fold title={words.measuredBefore}>
					<ul class="figures text-xs">
						{#each lines.slice(0, -1).toReversed() as line, i (i)}
							<li class="flex justify-between">
								<span>{format(line.at, 'd MMM, HH:mm')}</span><span>{words.mbitS(runs(line.runsKbps))}</span>
							</li>
						{/each}
					</ul>
				</Fold>
			{/if}
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.whatMeansPicture}</h3>
			<ul class="grid gap-1 text-sm">
				{#each plan.reasons as reason, i (i)}<li>{deliveryReason(reason)}</li>{/each}
			</ul>
			{#each plan.warnings as warning, i (i)}<Warning>{deliveryWarning(warning)}</Warning>{/each}
			<MachineVerdict />
			<Label class="mt-1 flex items-center gap-2">
				<Checkbox
					checked={delivery.chosenKbps !== null}
					disabled={session.isOnAir}
					onchange={() => change({ chosenKbps: delivery.chosenKbps === null ? plan.renditions[0]!.kbps : null })}
				/>
				{words.iChooseRateMyself}
			</Label>
			{#if delivery.chosenKbps !== null}
				<NumberField
					label={words.kbitS}
					value={delivery.chosenKbps}
					min={100}
					max={50_000}
					onchange={(chosenKbps) => change({ chosenKbps })}
				/>
			{/if}
			{#if session.isOnAir}<p class="text-xs text-gray-300">{words.changesCountFromNextBroadcast}</p>{/if}
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.whenDeskAway}</h3>
			<p class="text-xs text-gray-300">
				{words.ifTabClosedOrMachine}
			</p>
			<ChoiceField
				label={words.cardViewersSee}
				value={delivery.holdingId}
				choices={[[null, words.backShortlyMadeByBivvo], ...choicesAmong(cards)]}
				onchange={(holdingId) => change({ holdingId })}
			/>
			<NumberField
				label={words.endsByItselfAfterMin}
				value={delivery.holdMinutes}
				min={1}
				max={240}
				onchange={(holdMinutes) => change({ holdMinutes })}
			/>
		</section>

		<section class="grid gap-1">
			<h3 class="font-semibold">{words.recording}</h3>
			<Checkbox
				checked={delivery.records}
				disabled={session.isOnAir}
				onchange={() => change({ records: !delivery.records })}>{words.recordProgramWhileOnAir}</Checkbox
			>
			{#if !delivery.records}<Warning tone="air">{words.nothingRecorded}</Warning>{/if}
			{#if delivery.records}
				<Fold title={words.alsoRecordedSeparately(apartCount || words.nothing)}>
					<p class="py-1 text-xs text-gray-300">
						{words.editingLaterOneFileEach}
						{#if pictureTracks.length > 0}{words.picturesLinesMachineKeepsUp(pictureTracks[0]!.maxHeight)}{/if}
					</p>
					{#each [{ title: words.pictures, list: pictures, key: 'sourceIds' as const }, { title: words.sounds, list: show.setup.channels, key: 'channelIds' as const }] as { title, list, key } (key)}
						<fieldset>
							<legend class="flex w-full items-center justify-between font-semibold">
								{title}
								<Button
									size="xs"
									disabled={session.isOnAir}
									onclick={() =>
										change({
											apart: {
												...delivery.apart,
												[key]: chosen(key, list) > 0 ? [] : list.slice(0, MOST[key]).map(({ id }) => id),
											},
										})}>{chosen(key, list) > 0 ? words.none : words.all}</Button
								>
							</legend>
							{#each list as { id, name } (id)}
								<Label class="flex min-h-7 items-center gap-2">
									<Checkbox
										type="checkbox"
										checked={delivery.apart[key].includes(id)}
										disabled={session.isOnAir ||
											(!delivery.apart[key].includes(id) && delivery.apart[key].length >= MOST[key])}
										onchange={() => change({ apart: { ...delivery.apart, [key]: toggled(delivery.apart[key], id) } })}
									/>
									{name}
								</Label>
							{:else}
								<p class="text-xs text-gray-300">{words.thereNone}</p>
							{/each}
						</fieldset>
					{/each}
				</Fold>
			{/if}
			{#if roomS !== null}<p class="text-xs text-gray-300">{words.diskRoom(durationOf(roomS))}</p>{/if}
		</section>
	</div>
</Sheet>
