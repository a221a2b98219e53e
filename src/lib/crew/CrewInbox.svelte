<script lang="ts">
	/** The newest message of the crew for whoever reads here, until they say that they have seen it. */
	import { unseenFor, type CrewPlace } from '../../core/show/crew/crew.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import { crew as words } from '../words/index.ts';

	interface Props {
		place: CrewPlace;
		/** As whoever reads here is called. */
		reader: string;
		/** True where nobody can press anything: it goes by itself. */
		silent?: boolean;
		class?: string;
	}
	let { place, reader, silent = false, class: extra = '' }: Props = $props();
	const session = useSession();

	const message = $derived(unseenFor(session.state.live.crew, place, reader));
	/** One that was there before this page was opened shakes nothing. */
	let known: string | null = null;
	$effect(() => {
		if (message && message.id !== known) navigator.vibrate?.([80, 60, 80]);
		known = message?.id ?? null;
	});
	const SILENT_MS = 12_000;
	$effect(() => {
		if (!silent || !message) return;
		const timer = setTimeout(() => seen(message.id), SILENT_MS);
		return () => clearTimeout(timer);
	});
	const seen = (messageId: string) => session.do({ type: 'seeCrew', messageId, by: reader });
</script>

<div aria-live="assertive" class={extra}>
	{#if message}
		<div class="flex items-center gap-3 rounded-sm border-4 border-lamp bg-ink p-2 text-paper" data-crew={message.id}>
			<p class="min-w-0 flex-1 text-2xl leading-tight font-bold break-words">
				<span class="block text-sm font-normal text-gray-300">{words.from(message.from)}</span>
				{message.text}
			</p>
			{#if !silent}
				<Button look="main" size="touch" onpress={() => seen(message.id)}>{words.seen}</Button>
			{/if}
		</div>
	{/if}
</div>
