<script lang="ts">
	/** Lets a phone hear what the desk says to the crew. */
	import { onMount } from 'svelte';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import { crew as words } from '../words/index.ts';
	import { Hearing } from './hearing.svelte.ts';

	const session = useSession();
	const hearing = new Hearing(session);
	onMount(() => () => hearing.close());
	$effect(() => {
		void session.show.status?.engine;
		hearing.follow();
	});
	function plays(player: HTMLAudioElement) {
		player.srcObject = hearing.sound;
		void player.play().catch(() => {});
	}
</script>

<Button size="touch" lit="fill" aria-pressed={hearing.wanted} onclick={() => hearing.set(!hearing.wanted)}
	>{hearing.sound ? words.hears : hearing.wanted ? words.hearSoon : words.hear}</Button
>
{#if hearing.sound}
	{#key hearing.sound}<audio {@attach plays} data-talkback></audio>{/key}
{/if}
