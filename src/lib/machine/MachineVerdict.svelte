<script lang="ts">
	/** What this machine makes of the event as it is set up now: in words, or as a warning with its price. */
	import { lighterShow, type Lighter } from '../../core/machine/lighter.ts';
	import { batchOf, type SingleCommand } from '../../core/show/command.ts';
	import { planTracks } from '../../core/show/delivery/tracks.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import { useDesk } from '../desk/context.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { machine as words, machinePrice, machineSummary } from '../words/index.ts';

	interface Props {
		/** Says nothing while all is well. */
		onlyWarnings?: boolean;
	}
	let { onlyWarnings = false }: Props = $props();
	const session = useDesk();

	const { picture, delivery } = $derived(session.state.setup);
	const apart = $derived(planTracks(session.state.setup).filter(({ kind }) => kind === 'source').length);
	const judgement = $derived(session.machine.judge(session.state));
	const makesOf = (show: ShowState) => session.machine.judge(show, show.setup.picture);
	const lighter = $derived(lighterShow(session.state, makesOf));

	function lighten({ picture: chosen, sourceIds }: Lighter) {
		const commands: SingleCommand[] = [
			{ type: 'setPicture', picture: chosen },
			{ type: 'setDelivery', delivery: { ...delivery, apart: { ...delivery.apart, sourceIds: [...sourceIds] } } },
		];
		session.doWithUndo(batchOf(commands), words.lightened);
	}
	const outdated = $derived(session.machine.isOutdated(session.state, session.conditions));
</script>

{#if judgement?.verdict === 'drops'}
	<Warning
		>{machinePrice(picture, apart, judgement, lighter)}
		{#if lighter && !session.isOnAir}
			<Button size="sm" class="mt-1" onclick={() => lighten(lighter)}>{words.lighten}</Button>
		{/if}</Warning
	>
{:else if judgement && !onlyWarnings}
	<p class="text-sm">{machineSummary([{ picture, judgement }])}</p>
{/if}
{#if outdated}<Warning>{words.outdated}</Warning>{/if}
