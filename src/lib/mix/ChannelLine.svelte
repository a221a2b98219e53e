<script lang="ts">
	/** One channel: what it is, how loud it is, and the two things that are done to it most. */
	import type { Channel } from '../../core/show/mix/mix.ts';
	import { isOpen } from '../../core/show/mix/open.ts';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import { mix as words } from '../words/index.ts';
	import Fader from './Fader.svelte';
	import LevelBar from './LevelBar.svelte';

	interface Props {
		channel: Channel;
		/** For a finger, with more to read. */
		large?: boolean;
		chosen?: boolean;
		onopen: (channelId: string) => void;
	}
	let { channel, large = false, chosen = false, onopen }: Props = $props();
	const session = useSession();

	const heard = $derived(session.heard?.channels.find(({ id }) => id === channel.id) ?? null);
	const show = $derived(session.show.state);
	const groupMuted = $derived(channel.group !== null && show?.setup.mix.groups[channel.group].muted);
	const isPressed = $derived(show?.live.pressed.includes(channel.id) ?? false);
	const waits = $derived(show !== null && !isOpen(channel, show));
	const WAITS = {
		always: '',
		onAir: words.waitsPicture,
		press: words.waitsButton,
		off: words.neverHeard,
	} as const;
	/** What is done to it now, in words. */
	const says = $derived.by(() => {
		if (groupMuted) return words.mutedWithAll(channel.group!);
		if (waits) return WAITS[channel.follow];
		if (!heard) return '';
		const parts: string[] = [];
		if (channel.strip.gate.on && heard.gateDb < -1) parts.push(words.gateShut);
		if (channel.strip.compressor.on && heard.compressorDb < -0.5)
			parts.push(words.compressorBy(Math.round(-heard.compressorDb)));
		if (heard.automaticDb < -1) parts.push(words.dipsBy(Math.min(60, Math.round(-heard.automaticDb))));
		return parts.join(', ');
	});
</script>

<div
	class="border-t px-3 {large ? 'py-2' : 'py-1'} {chosen ? 'border-lamp bg-gray-700/50' : 'border-slate-rule'}"
	data-channel={channel.id}
	title={large ? undefined : says}
>
	<div class="flex items-center justify-between gap-2">
		<Button
			look="bare"
			class="min-w-0 flex-1 truncate text-left font-semibold hover:text-lamp {large ? 'min-h-11 text-lg' : 'text-sm'}"
			aria-label={words.setUp(channel.name)}
			onclick={() => onopen(channel.id)}>{channel.name}</Button
		>
		{#if heard && heard.clips > 0}
			<span class="figures text-xs text-lamp" title={words.samplesClippedAtInput}
				>{words.clip(heard.clips > 999 ? '999+' : heard.clips)}</span
			>
		{/if}
		<Button
			size={large ? 'touch' : 'xs'}
			class={large ? '' : 'py-0'}
			aria-pressed={channel.muted}
			aria-label={words.muteChannel(channel.name)}
			onpress={() => session.do({ type: 'setMute', channelId: channel.id, muted: !channel.muted })}
			>{channel.muted ? words.muted : words.mute}</Button
		>
	</div>
	<LevelBar of={channel.id} {heard} label={words.level(channel.name)} thin={!large} />
	<Fader
		label={channel.name}
		gainDb={channel.gainDb}
		{large}
		onchange={(gainDb) => session.do({ type: 'setFader', channelId: channel.id, gainDb })}
	/>
	{#if channel.follow === 'press'}
		<Button
			size={large ? 'touch' : 'sm'}
			class="mt-1 w-full"
			aria-pressed={isPressed}
			onhold={(pressed) => session.do({ type: 'pressChannel', channelId: channel.id, pressed })}
			>{isPressed ? words.heard(channel.name) : words.holdTalk}</Button
		>
	{/if}
	{#if large}<p class="truncate text-xs text-gray-300">{says || ' '}</p>{/if}
</div>
