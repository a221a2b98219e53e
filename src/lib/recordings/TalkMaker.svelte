<script lang="ts">
	/** The talk as sound alone, with title and picture in its tags. */
	import { Checkbox, Input, Label } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesOf } from '../ui/choices.ts';
	import { saveFile } from '../ui/save.ts';
	import Warning from '../ui/Warning.svelte';
	import { recordings as words } from '../words/index.ts';
	import Job from './Job.svelte';
	import { RunningJob } from './running-job.svelte.ts';
	import { stillOf } from './still.ts';

	interface Props {
		url: string;
		file: string;
		/** Of the event. */
		title: string;
		/** Null where there is no picture. */
		player: HTMLVideoElement | null;
		/** Seconds from its start. */
		part: { fromS: number; toS: number };
	}
	let { url, file, title, player, part }: Props = $props();

	const FORMATS = { m4a: words.m4a, mp3: words.mp3 } as const;
	let format = $state<keyof typeof FORMATS>('m4a');
	let name = $state(untrack(() => title));
	let artist = $state('');
	let withPicture = $state(true);
	let isForPhones = $state(true);
	let made = $state(false);
	const job = new RunningJob();

	async function make() {
		made = false;
		const still = withPicture && player ? await stillOf(player, 'image/jpeg') : null;
		const picture = still && new Uint8Array(await still.arrayBuffer());
		const tags = { title: name.trim(), artist: artist.trim(), album: title };
		const order = { url: new URL(url, location.href).href, ...part, format, ...tags, picture, isForPhones };
		const sound = await job.run(words.makingTalk, { job: 'talk', ...order });
		if (!sound) return;
		saveFile(file.replace(/\.\w+$/, `.${format}`), sound, sound.type);
		made = true;
	}
</script>

<div class="grid max-w-xl gap-3">
	<p class="text-sm text-gray-600">{words.talkIs}</p>
	<Label>{words.talkTitle}<Input bind:value={name} maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
	<Label>{words.talkArtist}<Input bind:value={artist} maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
	<Label>
		{words.format}
		<ChoiceField class="mt-1" value={format} choices={choicesOf(FORMATS)} onchange={(to) => (format = to)} />
	</Label>
	{#if player}<Checkbox bind:checked={withPicture}>{words.talkPicture}</Checkbox>{/if}
	<Checkbox bind:checked={isForPhones}>{words.forPhones}</Checkbox>
	<Button look="main" size="touch" class="justify-self-start" disabled={job.what !== ''} onclick={() => void make()}
		>{words.makeTalk}</Button
	>
	{#if job.what !== ''}<Job what={job.what} part={job.part} oncancel={() => job.cancel()} />{/if}
	{#if job.problem}<Warning urgent>{job.problem}</Warning>{/if}
	{#if made}<p role="status">{words.talkMade}</p>{/if}
</div>
