<script lang="ts">
	/** What a camera of this machine sees now, or how loud a microphone is, before it is chosen. Opened only while it is shown. */
	import type { DeviceOffer } from '../../../engine/sources/device.ts';
	import { sources as words } from '../../words/index.ts';

	interface Props {
		offer: DeviceOffer;
		/** Told of each opening, which ends when the device is shown, or is free again. */
		onopening: (opening: Promise<void>) => void;
	}
	let { offer, onopening }: Props = $props();

	/** Small and slow: several cameras share one cable of the machine. */
	const PICTURE = { width: { ideal: 320 }, height: { ideal: 180 }, frameRate: { ideal: 10 } };
	const LEVEL_EVERY_MS = 100;
	let problem = $state('');
	/** Part of full scale. */
	let level = $state(0);

	function seen(video: HTMLVideoElement) {
		return opened({ video: { ...PICTURE, deviceId: { exact: offer.origin.deviceId } } }, (stream) => {
			video.srcObject = stream;
			return () => (video.srcObject = null);
		});
	}
	function heard() {
		return opened({ audio: { deviceId: { exact: offer.origin.deviceId }, echoCancellation: false } }, (stream) => {
			const audio = new AudioContext();
			const analyser = audio.createAnalyser();
			audio.createMediaStreamSource(stream).connect(analyser);
			const samples = new Float32Array(analyser.fftSize);
			const timer = setInterval(() => {
				analyser.getFloatTimeDomainData(samples);
				level = samples.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0);
			}, LEVEL_EVERY_MS);
			return () => {
				clearInterval(timer);
				void audio.close();
			};
		});
	}
	function opened(wanted: MediaStreamConstraints, show: (stream: MediaStream) => () => void): () => void {
		let isOver = false;
		let end = () => {};
		const opening = navigator.mediaDevices.getUserMedia(wanted).then(
			(stream) => {
				const stop = () => stream.getTracks().forEach((track) => track.stop());
				if (isOver) return stop();
				const hide = show(stream);
				end = () => {
					hide();
					stop();
				};
			},
			() => {
				problem = words.noPreview;
			},
		);
		onopening(opening);
		return () => {
			isOver = true;
			end();
		};
	}
</script>

{#if problem}
	<span
		class="grid aspect-video w-40 shrink-0 place-items-center border border-dashed border-gray-500 p-1 text-center text-xs"
		>{problem}</span
	>
{:else if offer.origin.kind === 'camera'}
	<video
		class="aspect-video w-40 shrink-0 bg-black object-contain"
		muted
		autoplay
		playsinline
		aria-label={words.seesNow(offer.origin.label)}
		{@attach seen}
	></video>
{:else}
	<span
		class="block h-2 w-40 shrink-0 bg-gray-700"
		role="meter"
		aria-label={words.levelNow(offer.origin.label)}
		aria-valuemin="0"
		aria-valuemax="100"
		aria-valuenow={Math.round(100 * level)}
		{@attach heard}
		><span class="block h-full bg-lamp" style:width="{Math.min(100, 100 * Math.sqrt(level))}%"></span></span
	>
{/if}
