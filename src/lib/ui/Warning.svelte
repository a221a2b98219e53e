<script lang="ts">
	/** One sentence that somebody should know before going on. */
	import { Alert } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';

	interface Props {
		/** True for what has just gone wrong: screen readers announce it at once. */
		urgent?: boolean;
		/** *air* for what viewers would miss. */
		tone?: 'lamp' | 'air';
		class?: string;
		children: Snippet;
	}
	let { urgent = false, tone = 'lamp', class: extra = '', children }: Props = $props();
</script>

<Alert
	role={urgent ? 'alert' : 'note'}
	params={{ duration: 0 }}
	class="{tone === 'air' ? 'border-air' : ''} {urgent || tone === 'air' ? '' : 'font-normal'} {extra}"
	>{@render children()}</Alert
>
