<script lang="ts">
	/** Progress of something that takes a known time. */
	import { Progressbar } from 'flowbite-svelte';

	let { label, seconds }: { label: string; seconds: number } = $props();

	const startedAt = performance.now();
	const STEP_MS = 100;
	let percent = $state(0);
	$effect(() => {
		const timer = setInterval(
			() => (percent = Math.min(100, Math.round((performance.now() - startedAt) / (10 * seconds)))),
			STEP_MS,
		);
		return () => clearInterval(timer);
	});
</script>

<p role="status" class="text-gray-300">{label}</p>
<Progressbar progress={percent} size="h-2" aria-label={label} />
