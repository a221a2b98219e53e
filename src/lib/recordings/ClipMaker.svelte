<script lang="ts">
	/** An upright or square clip of a part of a recording: where it looks, text upon it, and its sound. */
	import { Checkbox, Label, Textarea } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import {
		cropAt,
		cropRect,
		clipSize,
		SHAPES,
		withPoint,
		type CropPoint,
		type Shape,
	} from '../../core/afterwards/crop.ts';
	import { followed } from '../../core/afterwards/focus.ts';
	import { captionAt, captionsOf, type Caption, type ForClips } from '../../core/afterwards/for-clips.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import { saveFile } from '../ui/save.ts';
	import SliderField from '../ui/SliderField.svelte';
	import { TEXTAREA } from '../ui/theme.ts';
	import Warning from '../ui/Warning.svelte';
	import { clockOf, recordings as words } from '../words/index.ts';
	import Job from './Job.svelte';
	import { drawCaption } from './make-clip.ts';
	import { RunningJob } from './running-job.svelte.ts';

	interface Props {
		/** Of the recording. */
		url: string;
		file: string;
		player: HTMLVideoElement;
		atS: number;
		/** Seconds from its start; null while no part is chosen. */
		part: { fromS: number; toS: number } | null;
	}
	let { url, file, player, atS, part }: Props = $props();

	const MOST_MINUTES = 10;
	const PREVIEW_HEIGHT = 320;
	const SHAPE_NAMES = { upright: words.upright, square: words.square } as const;
	const TEXTS = { none: words.noText, words: words.wordsText, own: words.ownText } as const;
	let shape = $state<Shape>('upright');
	let points = $state.raw<CropPoint[]>([]);
	/** What the points were, to go back to. */
	let before = $state.raw<CropPoint[][]>([]);
	let text = $state<keyof typeof TEXTS>('none');
	let own = $state('');
	let isForPhones = $state(true);
	let forClips = $state.raw<ForClips | null>(null);
	let made = $state(false);
	let problem = $state('');
	const job = new RunningJob();
	let canvas = $state<HTMLCanvasElement>();

	const captions = $derived.by((): Caption[] => {
		if (!part) return [];
		if (text === 'own') return own.trim() === '' ? [] : [{ fromS: 0, toS: part.toS - part.fromS, text: own }];
		return text === 'words' ? captionsOf(forClips?.words ?? [], part.fromS, part.toS) : [];
	});
	const x = $derived(cropAt(points, atS));
	const isLong = $derived(part !== null && part.toS - part.fromS > 60 * MOST_MINUTES);

	/** The moment of the point that is being moved: a movement is one step back. */
	let movedAtS: number | null = null;
	function set(next: CropPoint[]) {
		before = [...before, points];
		points = next;
		movedAtS = null;
	}
	function look(to: number) {
		if (movedAtS === null || Math.abs(movedAtS - atS) > 0.25) set(points);
		points = withPoint(points, { atS, x: to, jumps: false });
		movedAtS = atS;
	}
	async function load(): Promise<ForClips | null> {
		const response = forClips ? null : await fetch(`${url}/for-clips`).catch(() => null);
		if (response?.ok) forClips = (await response.json()) as ForClips;
		problem = forClips ? '' : words.serverUnreachable;
		return forClips;
	}
	async function follow() {
		const told = await load();
		if (!told) return;
		const along = followed(told.focus, told.sourceId);
		if (along.length > 0) set(along);
		else problem = words.noFocus;
	}
	async function chooseText(chosen: keyof typeof TEXTS) {
		text = chosen;
		if (chosen === 'words') await load();
	}
	async function make() {
		made = false;
		const order = { url: new URL(url, location.href).href, ...part!, shape, points, captions, isForPhones };
		const clip = await job.run(words.makingClip, { job: 'clip', ...$state.snapshot(order) });
		if (!clip) return;
		saveFile(file.replace(/\.\w+$/, `-${shape}.mp4`), clip, 'video/mp4');
		made = true;
	}

	/** The picture as it is now, cropped; drawn again whenever it may be another. */
	$effect(() => {
		const element = canvas;
		const video = player;
		if (!element) return;
		const context = element.getContext('2d')!;
		let frame = 0;
		const draw = () => {
			frame = requestAnimationFrame(draw);
			const whole = { width: video.videoWidth, height: video.videoHeight };
			if (whole.width === 0) return;
			const seconds = video.currentTime;
			const rect = cropRect(shape, whole, cropAt(points, seconds));
			context.drawImage(video, rect.x, rect.y, rect.width, rect.height, 0, 0, element.width, element.height);
			if (part) drawCaption(context, captionAt(captions, Math.min(seconds, part.toS - 0.01) - part.fromS));
		};
		draw();
		return () => cancelAnimationFrame(frame);
	});
	const size = $derived.by(() => {
		const { width, height } = clipSize(shape, { width: 1280, height: 720 });
		return { width: Math.round((PREVIEW_HEIGHT * width) / height), height: PREVIEW_HEIGHT };
	});
</script>

<div class="grid gap-4 sm:grid-cols-[auto_minmax(0,1fr)]">
	<canvas
		bind:this={canvas}
		width={2 * size.width}
		height={2 * size.height}
		style="width: {size.width}px; height: {size.height}px"
		class="justify-self-center rounded-sm bg-ink"
		aria-label={words.preview}
	></canvas>
	<div class="grid content-start gap-3">
		<p class="text-sm text-gray-600">
			{part ? words.clipPart(clockOf(part.fromS), clockOf(part.toS)) : words.clipNoPart}
		</p>
		<Label>
			{words.shape}
			<ChoiceField
				class="mt-1"
				value={shape}
				choices={choicesOf(SHAPE_NAMES)}
				onchange={(chosen) => (shape = chosen in SHAPES ? chosen : 'upright')}
			/>
		</Label>
		<div class="grid gap-1">
			<SliderField label={words.where} min={0} max={1} value={x} text={`${Math.round(100 * x)} %`} onchange={look} />
			<p class="text-sm text-gray-600">{words.whereIs}</p>
			<div class="flex flex-wrap gap-2">
				<Button size="sm" onclick={() => void follow()}>{words.followAir}</Button>
				<Button
					size="sm"
					disabled={before.length === 0}
					onclick={() => {
						points = before.at(-1)!;
						before = before.slice(0, -1);
						movedAtS = null;
					}}>{words.undoPoints}</Button
				>
			</div>
			{#if points.length > 0}
				<ul class="flex max-h-24 flex-wrap gap-1 overflow-y-auto" aria-label={words.points}>
					{#each points as point (point.atS)}
						<li class="flex items-center gap-1 rounded-sm border border-gray-300 pl-2 text-sm">
							<Button look="bare" class="figures underline" onclick={() => (player.currentTime = point.atS)}
								>{words.pointAt(clockOf(point.atS))}</Button
							>
							<Button
								look="icon"
								aria-label={words.removePoint(clockOf(point.atS))}
								onclick={() => set(points.filter((each) => each !== point))}><TrashBinOutline class="size-4" /></Button
							>
						</li>
					{/each}
				</ul>
			{/if}
		</div>
		<Label>
			{words.textUpon}
			<ChoiceField class="mt-1" value={text} choices={choicesOf(TEXTS)} onchange={(to) => void chooseText(to)} />
		</Label>
		{#if text === 'own'}
			<Label>{words.text}<Textarea bind:value={own} rows={2} maxlength={200} class="{TEXTAREA} mt-1" /></Label>
		{:else if text === 'words' && part && captions.length === 0}
			<p class="text-sm text-gray-600">{words.noWords}</p>
		{/if}
		<Checkbox bind:checked={isForPhones}>{words.forPhones}</Checkbox>
		{#if isLong}<Warning>{words.clipLong(MOST_MINUTES)}</Warning>{/if}
		<Button
			look="main"
			size="touch"
			class="justify-self-start"
			disabled={!part || isLong || job.what !== ''}
			onclick={() => void make()}>{words.makeClip}</Button
		>
		{#if job.what !== ''}<Job what={job.what} part={job.part} oncancel={() => job.cancel()} />{/if}
		{#if problem || job.problem}<Warning urgent>{problem || job.problem}</Warning>{/if}
		{#if made}<p role="status">{words.clipMade}</p>{/if}
	</div>
</div>
