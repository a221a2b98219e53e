<script lang="ts">
	/** What a tablet or a phone asks at its first visit, and what to answer: for who stands beside it. */
	import { certificate as words } from '../words/index.ts';
	import Frame from './Frame.svelte';

	interface Props {
		address: string;
		/** SHA-256 of the server's own certificate; null where it has none of its own. */
		fingerprint: string | null;
	}
	let { address, fingerprint }: Props = $props();
	/** Eight pairs in a line, as they can be compared. */
	const lines = $derived(fingerprint?.match(/(?:\w\w:?){1,8}/g) ?? []);
</script>

<Frame title={words.title}>
	{#if fingerprint === null}
		<p>{words.nothing}</p>
	{:else}
		<p>{words.why(address)}</p>
		<ol class="grid list-decimal gap-3 pl-5">
			<li>
				{words.compare}
				<code class="figures mt-1 block bg-gray-100 p-2 text-sm dark:bg-gray-700">
					{#each lines as line (line)}<span class="block">{line}</span>{/each}
				</code>
			</li>
			<li>
				{words.goOn}
				<ul class="list-disc pl-5">
					{#each words.browsers as [browser, presses] (browser)}
						<li><strong>{browser}</strong>: {presses}</li>
					{/each}
				</ul>
			</li>
			<li>{words.otherwise}</li>
		</ol>
		<p class="text-gray-600 dark:text-gray-300">{words.never}</p>
	{/if}
</Frame>
