<script lang="ts">
	/** What a camera sends, and whether it could send more than that where the program needs it. */
	import type { Source } from '../../../core/show/sources/source.ts';
	import Warning from '../../ui/Warning.svelte';
	import { network as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	let { source }: { source: Source } = $props();
	const session = useDesk();
	const condition = $derived(session.conditions.get(source.id));
	const could = $derived((source.kind === 'network' ? source.could : null) ?? condition?.could ?? null);
	const { picture } = $derived(session.state.setup);
	const text = ({ width, height }: { width: number; height: number }) => `${width} × ${height}`;
	const isLess = $derived(
		condition && could && condition.height < Math.min(could.height, picture.height) && condition.width < could.width,
	);
</script>

{#if condition?.state === 'live' && condition.width > 0}
	{#if isLess && could}
		<Warning class="text-sm">{words.sendsLess(text(condition), text(could))}</Warning>
	{:else if source.kind === 'network'}
		<p class="text-sm">{words.sends(text(condition))}</p>
	{/if}
{/if}
