<script lang="ts">
	/** The projector's screen: words, or its ground. Nothing of it moves but them, whatever happens to the connection. */
	import { onMount, untrack } from 'svelte';
	import { inHall } from '../../core/show/words/standing.ts';
	import { plainWords } from '../../core/show/words/words.ts';
	import { provideSession } from '../show/context.ts';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import { viewsOf } from '../show/watched-views.ts';
	import WatchedPicture from '../show/WatchedPicture.svelte';
	import SlideRows from '../songs/SlideRows.svelte';
	import { stayAwake } from '../ui/awake.ts';

	interface Props {
		eventId: string;
	}
	let { eventId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const views = viewsOf(untrack(() => eventId));
	onMount(stayAwake);
	onMount(() => () => session.close());
	const show = $derived(session.show.state);
	const slide = $derived(show && inHall(show));
	const look = $derived(show?.setup.words.look.hall ?? plainWords().look.hall);

	/** The whole screen, by a press anywhere. */
	function fill() {
		if (!document.fullscreenElement) void document.documentElement.requestFullscreen().catch(() => {});
	}
</script>

<!-- svelte-ignore a11y_click_events_have_key_events, a11y_no_noninteractive_element_interactions -->
<main
	class="fixed inset-0 grid cursor-none place-content-center overflow-hidden"
	style:background-color={look.paper}
	style:color={look.ink}
	onclick={fill}
>
	{#if show && show.live.hall.behind.is !== 'ground'}
		<WatchedPicture {views} view="hall" label="" class="absolute inset-0 size-full" />
		<!-- Words are read on whatever is behind them. -->
		{#if slide}<div class="absolute inset-0 bg-black/55"></div>{/if}
	{/if}
	<!-- A picture of 16:9 within the screen: sizes are those of one 1920 wide, less what the screen hides at its edges. -->
	<div
		class="@container relative grid place-content-center text-center font-bold"
		style:width="min({100 * (1 - 2 * look.margin)}vw, {(1600 / 9) * (1 - 2 * look.margin)}vh)"
		aria-live="polite"
	>
		{#if slide}
			<SlideRows {slide} languages={look.fit.languages} />
		{/if}
	</div>
</main>
