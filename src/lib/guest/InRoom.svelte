<script lang="ts">
	/** Somebody who is at the event: where they are, themselves, and what they can do. */
	import { ButtonGroup, Checkbox, Label, Modal, Range } from 'flowbite-svelte';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';
	import DeviceFields from './DeviceFields.svelte';
	import Level from './Level.svelte';
	import Messages from './Messages.svelte';
	import OwnConsent from './OwnConsent.svelte';
	import OwnPicture from './OwnPicture.svelte';
	import OwnRecordingLine from './OwnRecordingLine.svelte';
	import Place from './Place.svelte';
	import Program from './Program.svelte';

	const session = useGuest();
	let settingsOpen = $state(false);
	let leaving = $state(false);
	let needsPress = $state(false);
	function leave() {
		leaving = false;
		session.leave();
	}

	/** Plays what the guest hears, where and as loud as they want it. */
	let player: HTMLAudioElement | null = null;
	function start() {
		player?.play().then(
			() => (needsPress = false),
			() => (needsPress = true),
		);
	}
	function play(node: HTMLAudioElement) {
		player = node;
		$effect(() => {
			node.srcObject = session.hears;
			if (session.hears) start();
		});
		$effect(() => {
			node.volume = session.volume;
		});
		$effect(() => {
			const { outputId } = session;
			if ('setSinkId' in node) void node.setSinkId(outputId).catch(() => {});
		});
	}

	/** After a press of the hand the space bar is to speak, not to press the same again. */
	function mute({ detail, currentTarget }: MouseEvent) {
		session.setMuted(!session.muted);
		if (detail > 0) (currentTarget as HTMLElement).blur();
	}
	const isTyping = ({ target }: KeyboardEvent) =>
		target instanceof HTMLElement && target.closest('input, textarea, select, button, a') !== null;
	function down(event: KeyboardEvent) {
		if (event.code !== 'Space' || isTyping(event)) return;
		event.preventDefault();
		session.holdToSpeak(true);
	}
	function up(event: KeyboardEvent) {
		if (event.code === 'Space') session.holdToSpeak(false);
	}
	const looks = $derived(
		(
			[
				['program', words.seeProgram],
				['forGuests', words.seeChosen],
				['self', words.seeSelf],
			] as const
		).filter(([what]) => what !== 'forGuests' || session.hasScene),
	);
	/** What is chosen, as far as it is there. */
	const looksAt = $derived(session.looksAt === 'forGuests' && !session.hasScene ? 'program' : session.looksAt);
	const isIn = $derived(session.situation !== null && session.situation.is !== 'waiting');
	const TOUCH = 'min-w-24 flex-1';
	const LIT = 'aria-pressed:border-ink aria-pressed:bg-ink aria-pressed:text-paper';
</script>

<svelte:window onkeydown={down} onkeyup={up} onblur={() => session.holdToSpeak(false)} />
<audio {@attach play}></audio>

<div class="grid gap-4">
	<Place />
	{#if needsPress}
		<Button look="main" size="touch" onclick={start}>{words.playSound}</Button>
	{/if}
	<div class="grid gap-4 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
		<div class="grid content-start gap-2">
			{#if isIn && looksAt !== 'self'}
				<div class="relative">
					{#key looksAt}<Program view={looksAt} />{/key}
					<div class="absolute right-2 bottom-2 w-1/4"><OwnPicture without={words.cameraOff} /></div>
				</div>
			{:else}
				<OwnPicture without={words.cameraOff} />
			{/if}
			{#if session.canWatch && isIn}
				<ButtonGroup class="grid {looks.length === 3 ? 'grid-cols-3' : 'grid-cols-2'}">
					{#each looks as [what, name] (what)}
						<Button
							size="touch"
							class="{LIT} px-1! text-sm leading-tight whitespace-normal"
							aria-pressed={looksAt === what}
							onclick={() => session.lookAt(what)}>{name}</Button
						>
					{/each}
				</ButtonGroup>
			{/if}
			{#if session.check.comesBack && !session.isMuted}<Warning>{words.comesBack}</Warning>{/if}
			<OwnRecordingLine />
			<Level levelDb={session.isMuted ? -100 : session.check.levelDb} label={words.level} />
		</div>
		<div class="grid content-start gap-3">
			<div class="flex flex-wrap gap-2">
				<Button size="touch" class="{TOUCH} {LIT}" aria-pressed={session.muted} hint={words.muteHint} onclick={mute}
					>{session.muted ? words.muted : words.mute}</Button
				>
				<Button
					size="touch"
					class="{TOUCH} {LIT}"
					aria-pressed={session.cameraOff}
					onclick={() => void session.setCameraOff(!session.cameraOff)}
					>{session.cameraOff ? words.cameraOff : words.cameraOn}</Button
				>
				<Button
					size="touch"
					class="{TOUCH} {LIT}"
					aria-pressed={session.hand}
					onclick={() => session.setHand(!session.hand)}>{session.hand ? words.handUp : words.hand}</Button
				>
				{#if session.canShare}
					<Button
						size="touch"
						class="{TOUCH} {LIT}"
						aria-pressed={session.screen !== null}
						onclick={() => void session.toggleShare()}>{session.screen ? words.sharing : words.share}</Button
					>
				{/if}
				<Button size="touch" class={TOUCH} onclick={() => (settingsOpen = true)}>{words.settings}</Button>
				<Button size="touch" class={TOUCH} onclick={() => (leaving = true)}>{words.leave}</Button>
			</div>
			<Label>
				{words.volume}
				<Range
					class="min-h-11"
					min="0"
					max="1"
					step="0.02"
					value={session.volume}
					oninput={({ currentTarget }) => session.setVolume(currentTarget.valueAsNumber)}
				/>
			</Label>
			<section class="grid gap-2" aria-label={words.messages}>
				<Messages
					said={session.said}
					own="guest"
					label={words.write}
					size="touch"
					onsay={(text) => session.say(text)}
				/>
			</section>
			<section class="grid gap-1" aria-label={words.viewersWrite}>
				<div class="flex min-h-11 items-center">
					<Checkbox
						checked={session.readsViewers}
						onchange={({ currentTarget }) => session.readViewers((currentTarget as HTMLInputElement).checked)}
						>{words.readViewers}</Checkbox
					>
				</div>
				{#if session.readsViewers && isIn}
					<ul class="grid max-h-40 gap-1 overflow-y-auto text-sm">
						{#each session.viewers.toReversed() as { from, text, at }, i (`${at} ${i}`)}
							<li><b>{from}</b> <span class="break-words">{text}</span></li>
						{:else}
							<li>{words.viewersWroteNothing}</li>
						{/each}
					</ul>
				{/if}
			</section>
		</div>
	</div>
</div>

<Modal bind:open={settingsOpen} size="sm" title={words.settings}>
	<div class="grid gap-4">
		<DeviceFields />
		<OwnConsent />
	</div>
	<Button look="main" size="touch" onclick={() => (settingsOpen = false)}>{words.done}</Button>
</Modal>
<Modal bind:open={leaving} size="xs" title={words.leaveSure}>
	<div class="flex gap-2">
		<Button size="touch" class="flex-1" onclick={() => (leaving = false)}>{words.stay}</Button>
		<Button look="main" size="touch" class="flex-1" onclick={leave}>{words.leave}</Button>
	</div>
</Modal>
