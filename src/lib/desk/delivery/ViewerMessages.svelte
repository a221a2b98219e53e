<script lang="ts">
	/** What viewers write at the hosts; what should not be seen is hidden by one press. */
	import { format } from 'date-fns';
	import Button from '../../ui/Button.svelte';
	import { delivery as words } from '../../words/index.ts';
	import { useDesk } from '../context.ts';

	const session = useDesk();
	const show = $derived(session.state);

	const seen = $derived(session.show.viewers.filter(({ id }) => !show.live.hiddenMessages.includes(id)));
	const nameOf = (id: string) => show.setup.destinations.find((each) => each.id === id)?.name ?? '';

	function hide(id: string, from: string) {
		session.doWithUndo({ type: 'hideMessage', messageId: id, hidden: true }, words.whatWroteHiddenHere(from));
	}
</script>

{#if seen.length > 0}
	<section class="panel" aria-labelledby="viewers-write">
		<h2 id="viewers-write" class="panel-title">{words.viewersWrite}</h2>
		<ul class="grid max-h-56 overflow-y-auto" aria-live="polite">
			{#each seen.toReversed() as { id, destinationId, at, from, text } (id)}
				<li class="border-t border-slate-rule px-3 py-1.5 text-sm">
					<p class="flex items-baseline gap-2">
						<span class="min-w-0 flex-1 truncate font-semibold" title={nameOf(destinationId)}>{from}</span>
						<span class="figures text-xs text-gray-300">{format(at, 'HH:mm')}</span>
						<Button
							look="bare"
							class="text-xs text-gray-300 underline hover:text-lamp"
							aria-label={words.hideWhatWrote(from)}
							onclick={() => hide(id, from)}>{words.hide}</Button
						>
					</p>
					<p class="break-words">{text}</p>
				</li>
			{/each}
		</ul>
	</section>
{/if}
