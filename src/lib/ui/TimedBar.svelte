<script lang="ts">
	/** How far something is that takes a known time. */
	let { label, seconds }: { label: string; seconds: number } = $props();
</script>

<p role="status" class="text-gray-300">{label}</p>
<div class="h-2 overflow-hidden rounded-sm bg-gray-700">
	<div class="bar h-full bg-lamp" style:animation-duration="{seconds}s"></div>
</div>

<style>
	.bar {
		animation: grow linear forwards;
	}
	@keyframes grow {
		from {
			width: 0;
		}
		to {
			width: 100%;
		}
	}
</style>
