<script lang="ts">
	/** Macros that run now, each with a press that stops it; and what one could not do. */
	import { macroOf } from '../../core/show/macros/runs.ts';
	import { useSession } from '../show/context.ts';
	import { useNow } from '../show/now.svelte.ts';
	import Button from '../ui/Button.svelte';
	import { clockOf, macroName, panels as words } from '../words/index.ts';

	const session = useSession();
	const show = $derived(session.state);
	const time = useNow(session.show);
	const nameOf = (macroId: string) => macroName(macroId, macroOf(show.setup, macroId)?.name ?? '');
	/** How long it still waits; '' where that cannot be told. */
	function leftOf(macroId: string): string {
		const due = show.live.due.find(({ batch }) => batch[0]?.type === 'macroOn' && batch[0].macroId === macroId);
		return due ? clockOf(Math.max(0, Math.ceil((due.at - time.now) / 1000))) : words.waits;
	}
	const running = $derived(show.live.macros.filter(({ isWaiting }) => isWaiting));
	const failed = $derived(show.live.macros.filter(({ missed, isWaiting }) => missed.length > 0 && !isWaiting));
</script>

{#each running as { macroId } (macroId)}
	<p class="flex items-center gap-2 rounded-sm border-l-4 border-paper bg-gray-700 px-2" data-running={macroId}>
		<strong class="min-w-0 flex-1 truncate">{nameOf(macroId)}</strong>
		<span class="figures">{leftOf(macroId)}</span>
		<Button size="touch" onpress={() => session.do({ type: 'stopMacro', macroId })}
			>{words.stop(nameOf(macroId))}</Button
		>
	</p>
{/each}
{#each failed as { macroId, missed } (macroId)}
	<p class="border-l-4 border-lamp px-2 text-sm" role="status">
		{words.missed(nameOf(macroId), missed.map((step) => step + 1).join(', '))}
	</p>
{/each}
