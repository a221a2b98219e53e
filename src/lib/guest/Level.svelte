<script lang="ts">
	/** How loud a voice comes in. */
	import { Progressbar } from 'flowbite-svelte';

	let { levelDb, label }: { levelDb: number; label: string } = $props();
	/** The quietest that is shown. */
	const FROM_DB = -60;
	const part = $derived(Math.round(100 * Math.min(1, Math.max(0, 1 - levelDb / FROM_DB))));
</script>

<div role="meter" aria-label={label} aria-valuemin="0" aria-valuemax="100" aria-valuenow={part}>
	<Progressbar progress={part} animate={false} size="h-3" aria-hidden="true" />
</div>
