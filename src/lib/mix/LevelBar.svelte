<script lang="ts">
	interface Props {
		/** Left and right, dB relative to full scale; null while nothing is known. */
		heard: { levelDb: readonly number[]; holdDb: readonly number[] } | null;
		label: string;
		/** Draws the figures below. */
		scale?: boolean;
		thin?: boolean;
	}
	let { heard, label, scale = false, thin = false }: Props = $props();

	const FLOOR_DB = -60;
	const MARKS = [-60, -40, -20, -10, 0];
	/** Part of the bar's length, 0 to 1. */
	const place = (db: number) => Math.min(1, Math.max(0, (db - FLOOR_DB) / -FLOOR_DB));
	const levels = $derived(heard?.levelDb ?? [-Infinity, -Infinity]);
	const loudest = $derived(Math.max(...levels));
</script>

<div
	class="grid {thin ? 'my-0.5 gap-px' : 'my-1.5 gap-0.5'}"
	role="meter"
	aria-label={label}
	aria-valuemin={FLOOR_DB}
	aria-valuemax={0}
	aria-valuenow={Math.max(FLOOR_DB, Math.round(loudest))}
>
	{#each levels as levelDb, side (side)}
		{@const holdDb = heard?.holdDb[side] ?? -Infinity}
		<div class="relative {thin ? 'h-1' : 'h-2'} overflow-hidden bg-gray-700">
			<div
				class="h-full origin-left {levelDb > -3 ? 'bg-lamp' : 'bg-gray-300'}"
				style:transform="scaleX({place(levelDb)})"
			></div>
			{#if holdDb > FLOOR_DB}
				<div
					class="absolute inset-y-0 w-0.5 {holdDb >= 0 ? 'bg-air' : 'bg-paper'}"
					style:left="calc({place(holdDb) * 100}% - 2px)"
				></div>
			{/if}
		</div>
	{/each}
	{#if scale}
		<div class="figures relative h-4 text-xs text-gray-300" aria-hidden="true">
			{#each MARKS as mark (mark)}
				<span
					class="absolute {mark === FLOOR_DB ? '' : mark === 0 ? '-translate-x-full' : '-translate-x-1/2'}"
					style:left="{place(mark) * 100}%">{mark}</span
				>
			{/each}
		</div>
	{/if}
</div>
