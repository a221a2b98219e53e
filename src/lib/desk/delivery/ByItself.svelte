<script lang="ts">
	/** What is typed into a camera that sends to a host by itself, when no desk is there: within the host's limits. */
	import CopyField from '../../ui/CopyField.svelte';
	import { delivery as words } from '../../words/index.ts';

	interface Props {
		address: string;
		/** Limits of the host; null for none. */
		maxHeight: number | null;
		maxKbps: number | null;
		maxFps: number | null;
	}
	let { address, maxHeight, maxKbps, maxFps }: Props = $props();

	/** What cameras offer, the largest first, with the rate of picture and sound that is enough for it, kbit/s. */
	const SIZES = [
		{ width: 1920, height: 1080, kbps: 6000 },
		{ width: 1280, height: 720, kbps: 3500 },
		{ width: 854, height: 480, kbps: 1500 },
		{ width: 640, height: 360, kbps: 900 },
	];
	/** Of a host's limit, so much is left for what cameras send beside the rate that they name. */
	const LEFT = 0.9;
	const SOUND_KBPS = 128;
	const MOST_FPS = 30;
	const size = $derived(
		SIZES.find(
			({ height, kbps }) =>
				height <= (maxHeight ?? Infinity) && kbps * 0.6 <= (maxKbps ?? Infinity) * LEFT - SOUND_KBPS,
		) ?? SIZES.at(-1)!,
	);
	const kbps = $derived(Math.floor(Math.min(size.kbps, (maxKbps ?? Infinity) * LEFT - SOUND_KBPS) / 50) * 50);
</script>

<div class="grid gap-2 text-sm">
	<p>{words.byItselfWhen}</p>
	<CopyField label={words.byItselfAddress} value={address} />
	<ul class="grid list-disc gap-1 pl-5">
		<li>{words.byItselfKey}</li>
		<li>{words.byItselfPicture(`${size.width} × ${size.height}`, Math.min(MOST_FPS, maxFps ?? MOST_FPS))}</li>
		<li>{words.byItselfRates(kbps, SOUND_KBPS)}</li>
		<li>{words.byItselfKeyFrames}</li>
	</ul>
	<p>{words.byItselfNotBoth}</p>
</div>
