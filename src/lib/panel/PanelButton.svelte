<script lang="ts">
	/** A button of a panel: what it does in words, and how that stands. Its state is never colour alone. */
	import {
		ArrowLeftOutline,
		BellOutline,
		BookmarkOutline,
		CameraPhotoOutline,
		ExclamationCircleOutline,
		ForwardStepOutline,
		ImageOutline,
		LightbulbOutline,
		MessagesOutline,
		MicrophoneOutline,
		MusicOutline,
		PlaySolid,
		StopSolid,
		TextSizeOutline,
		UserOutline,
		UsersGroupOutline,
		VolumeMuteOutline,
	} from 'flowbite-svelte-icons';
	import { standOf, subjectOf, type ButtonState } from '../../core/show/actions/actions.ts';
	import { macroOf } from '../../core/show/macros/runs.ts';
	import type { PanelButton } from '../../core/show/panels/panel.ts';
	import { useSession } from '../show/context.ts';
	import { useNow } from '../show/now.svelte.ts';
	import type { WatchedViews } from '../show/watched-views.ts';
	import WatchedPicture from '../show/WatchedPicture.svelte';
	import Button from '../ui/Button.svelte';
	import { orderLabel, panels as words, standWord } from '../words/index.ts';
	import { gestures, type Gestures } from './gestures.ts';

	interface Props {
		button: PanelButton;
		/** What a finger on it does; null while nothing can be done. */
		acts: Gestures | null;
		/** False for a role that may not do it. */
		isMine: boolean;
		/** True for a moment after a press that could not be done. */
		isRefused: boolean;
		views: WatchedViews;
	}
	let { button, acts, isMine, isRefused, views }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);
	const time = useNow(session.show);

	const order = $derived(button.press ?? button.hold ?? button.double);
	const stands = $derived<ButtonState>(order ? standOf(show, order, time.now) : 'plain');
	/** One that asks once more ends with dots, as everywhere. */
	const asks = $derived(order?.action === 'macro' && macroOf(show.setup, order.of!)?.asks === true);
	const label = $derived(
		(button.label || (order ? orderLabel(order, subjectOf(show, order)) : '')) + (asks ? ' …' : ''),
	);
	const word = $derived(isRefused ? words.refused : order ? standWord(stands, order.action, session.isOnAir) : '');
	const sceneId = $derived(
		button.picture && order?.of !== undefined && show.setup.scenes.some(({ id }) => id === order.of) ? order.of : null,
	);

	const ICONS = {
		camera: CameraPhotoOutline,
		picture: ImageOutline,
		card: BookmarkOutline,
		name: UserOutline,
		words: TextSizeOutline,
		music: MusicOutline,
		microphone: MicrophoneOutline,
		hush: VolumeMuteOutline,
		play: PlaySolid,
		stop: StopSolid,
		next: ForwardStepOutline,
		back: ArrowLeftOutline,
		people: UsersGroupOutline,
		message: MessagesOutline,
		marker: BellOutline,
		lamp: LightbulbOutline,
		warning: ExclamationCircleOutline,
	} as const;
	const Icon = $derived(button.icon && ICONS[button.icon]);
	const COLOURS = {
		slate: 'bg-gray-700',
		moss: 'bg-[#2f4a38]',
		heather: 'bg-[#4a3550]',
		bracken: 'bg-[#5a3b22]',
		tarn: 'bg-[#23425a]',
	} as const;
	const LOOK: Record<ButtonState, string> = {
		program: 'border-air bg-air text-white',
		next: 'border-double border-lamp',
		armed: 'border-dotted border-lamp',
		on: 'border-lamp bg-lamp text-ink',
		running: 'border-paper',
		muted: 'border-dashed border-lamp',
		plain: 'border-slate-rule',
		idle: 'border-slate-rule text-gray-300',
		gone: 'border-dashed border-gray-500 text-gray-300',
	};
	const isActive = $derived(acts !== null && isMine && stands !== 'gone');
	const isFilled = $derived(stands === 'program' || stands === 'on');
</script>

<div
	class="min-w-0"
	style:grid-column="span {button.width}"
	style:grid-row="span {button.height}"
	{@attach isActive && gestures(() => acts ?? {})}
>
	<Button
		look="bare"
		class="relative flex size-full min-h-16 touch-manipulation flex-col items-start overflow-hidden rounded-sm border-4 p-2 text-left text-paper select-none {LOOK[
			stands
		]} {isFilled ? '' : COLOURS[button.colour]}"
		disabled={!isActive}
		aria-pressed={isFilled || stands === 'muted'}
		aria-label={[label, word, isMine ? '' : words.notYours].filter(Boolean).join(', ')}
	>
		{#if sceneId !== null}
			<WatchedPicture {views} view="wall" {sceneId} label="" class="absolute inset-0 size-full" />
		{/if}
		<span class="relative flex w-full items-start gap-1">
			<span
				class="min-w-0 flex-1 text-lg leading-tight font-semibold break-words hyphens-auto {sceneId === null
					? ''
					: 'w-fit flex-none bg-ink/85 px-1 text-paper'}">{label}</span
			>
		</span>
		<span class="relative mt-auto flex w-full flex-wrap items-end justify-between gap-1 pt-1 text-sm">
			<strong class={sceneId !== null && !isFilled && word ? 'bg-ink px-1 text-lamp' : ''}>{word}</strong>
			{#if button.press && (button.hold || button.double)}
				<span class="bg-ink/70 px-1 text-paper">{button.hold ? words.hold : words.double}</span>
			{/if}
			{#if Icon}<Icon class="ml-auto size-5 shrink-0" aria-hidden="true" />{/if}
		</span>
	</Button>
</div>
