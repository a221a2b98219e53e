<script lang="ts">
	/** In one large line what is true for a guest now. */
	import { useNow } from '../show/now.svelte.ts';
	import { clockOf, guest as words } from '../words/index.ts';
	import { useGuest } from './context.ts';

	const session = useGuest();
	const clock = useNow({
		get now() {
			return Date.now() + session.clockOffsetMs;
		},
	});
	const { situation } = $derived(session);
	const at = $derived(situation && 'at' in situation ? situation.at : null);
	const leftS = $derived(at === null ? null : Math.ceil((at - clock.now) / 1000));
	/** Something stands between the guest and the desk. */
	const isApart = $derived(!session.connected || !session.hasDesk || session.lineState === 'broken');
	const isOnAir = $derived(situation?.is === 'onAir' && !isApart);

	const line = $derived.by(() => {
		if (!session.connected) return words.noServer;
		if (!session.hasDesk) return words.noDesk;
		if (situation === null) return words.waiting;
		if (session.lineState === 'broken') return words.broken;
		switch (situation.is) {
			case 'waiting':
				return words.waiting;
			case 'greenRoom':
			case 'ready':
				if (leftS !== null) return leftS > 0 ? words.inTime(clockOf(leftS)) : words.anyMoment;
				return situation.is === 'ready' ? words.ready : words.greenRoom;
			case 'onAir':
				if (!situation.seen) return words.onAirHeard;
				if (!situation.heard) return words.onAirSeen;
				return session.isMuted ? words.onAirMuted : words.onAir;
		}
	});
	const hint = $derived(
		isApart
			? ''
			: situation?.is === 'waiting'
				? words.waitingHint
				: situation?.is === 'greenRoom'
					? words.greenRoomHint
					: '',
	);
</script>

<div
	class="rounded-sm border-4 p-3 {isOnAir ? 'border-air bg-air text-white' : 'border-gray-500 dark:border-slate-rule'}"
	data-situation={situation?.is ?? 'none'}
>
	<p class="text-2xl leading-tight font-bold" role="status">{line}</p>
	{#if hint}<p class="mt-1">{hint}</p>{/if}
</div>
