<script lang="ts">
	/** What this machine makes of the event as it is set up now: in words, or as a warning with its price. */
	import type { Judgement } from '../../core/machine/machine.ts';
	import { FRAME_RATES } from '../../core/show/event/picture.ts';
	import { useDesk } from '../desk/context.ts';
	import Warning from '../ui/Warning.svelte';
	import { machine as words, machinePrice, machineSummary } from '../words/index.ts';
	import { PICTURES } from './pictures.ts';

	interface Props {
		/** Says nothing while all is well. */
		onlyWarnings?: boolean;
	}
	let { onlyWarnings = false }: Props = $props();
	const session = useDesk();

	const { picture } = $derived(session.state.setup);
	const judgement = $derived(session.machine.judge(session.state));
	/** The largest picture of which that can be said, of the same pace if there is one. */
	const best = (verdict: Judgement['verdict']) =>
		[picture.fps, ...FRAME_RATES.toReversed()]
			.flatMap((fps) => PICTURES.filter((each) => each.fps === fps).toReversed())
			.find((each) => each.fps <= picture.fps && session.machine.judge(session.state, each)?.verdict === verdict) ??
		null;
	const better = $derived(best('ample') ?? best('tight'));
	const outdated = $derived(session.machine.isOutdated(session.state, session.conditions));
</script>

{#if judgement?.verdict === 'drops'}
	<Warning>{machinePrice(picture, judgement, better)}</Warning>
{:else if judgement && !onlyWarnings}
	<p class="text-sm">{machineSummary([{ picture, judgement }])}</p>
{/if}
{#if outdated}<Warning>{words.outdated}</Warning>{/if}
