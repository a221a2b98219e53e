<script lang="ts" module>
	import type { Details } from '../../../core/show/delivery/destination.ts';
	import { filled } from '../../../core/show/event/fields.ts';
	import type { ShowState } from '../../../core/show/state.ts';

	/** What hosts are to be told of an event, where nobody has told one anything yet. */
	export function detailsAsWritten({ setup }: ShowState): Details {
		const { title, hostTitle, hostDescription, fields, startsAt } = setup;
		return {
			title: filled(hostTitle, fields) || title,
			description: filled(hostDescription, fields),
			visibility: 'public',
			plannedAt: startsAt,
			pictureId: null,
		};
	}
</script>

<script lang="ts">
	/** Fields of what viewers are told of an event at a host. */
	import { Input, Label, Textarea } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import { storeStill } from '../../sources/still/store.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import { choicesOf } from '../../ui/choices.ts';
	import FileButton from '../../ui/FileButton.svelte';
	import { TEXTAREA } from '../../ui/theme.ts';
	import Warning from '../../ui/Warning.svelte';
	import { delivery as words, hosts as hostWords } from '../../words/index.ts';
	import { problemWords } from '../../words/problem.ts';

	interface Props {
		eventId: string;
		details: Details;
		/** True where the host takes a picture of its own for a broadcast. */
		takesPicture: boolean;
		/** False where who may see it, and from when, stands elsewhere. */
		asksWho?: boolean;
	}
	let { eventId, details = $bindable(), takesPicture, asksWho = true }: Props = $props();
	let problem = $state('');

	const WORDS = {
		public: words.everybody,
		unlisted: words.everybodyWhoLink,
		private: words.nobodyButOwnersAccount,
	} as const satisfies Record<Details['visibility'], string>;

	async function choose([file]: FileList) {
		problem = '';
		try {
			details.pictureId = (await storeStill(eventId, file!)).origin.fileId;
		} catch (error) {
			problem = problemWords(error);
		}
	}
</script>

<Label>{words.title}<Input bind:value={details.title} required maxlength={MOST_NAME_LETTERS} class="mt-1" /></Label>
<Label>
	{words.description}
	<Textarea bind:value={details.description} rows={3} maxlength={2000} class="{TEXTAREA} mt-1" />
</Label>
{#if asksWho}
	<div class="grid grid-cols-2 gap-3">
		<Label>
			{words.whoMaySee}
			<ChoiceField
				class="mt-1"
				value={details.visibility}
				choices={choicesOf(WORDS)}
				onchange={(chosen) => (details.visibility = chosen)}
			/>
		</Label>
		<Label>{words.starts}<Input type="datetime-local" bind:value={details.plannedAt} class="mt-1" /></Label>
	</div>
{/if}
{#if takesPicture}
	<div class="grid gap-1">
		<span class="text-sm">{hostWords.picture}</span>
		<div class="flex flex-wrap items-center gap-2">
			{#if details.pictureId}
				<img
					src="/api/events/{eventId}/files/{details.pictureId}"
					alt={hostWords.picture}
					class="h-16 max-w-40 rounded-sm object-cover"
				/>
				<Button size="xs" onclick={() => (details.pictureId = null)}>{hostWords.removePicture}</Button>
			{:else}
				<span class="text-sm text-gray-600 dark:text-gray-300">{hostWords.noPicture}</span>
			{/if}
			<FileButton
				label={hostWords.choosePicture}
				accept="image/png,image/jpeg"
				onchoose={(files) => void choose(files)}
			/>
		</div>
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
	</div>
{/if}
