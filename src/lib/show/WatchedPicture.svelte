<script lang="ts">
	/** A small picture that another page makes: the program, Next, or one scene of the wall. Made only while it is seen. */
	import { untrack } from 'svelte';
	import { sceneOnWall, type View } from '../../core/watch/views.ts';
	import { canWatch } from '../../engine/watch/view-decoder.ts';
	import { watchSeen } from '../ui/seen.ts';
	import { useSession } from './context.ts';
	import type { WatchedViews } from './watched-views.ts';

	interface Props {
		views: WatchedViews;
		view: View;
		/** Of the wall. */
		sceneId?: string;
		/** What it shows; empty where what stands beside it says so. */
		label: string;
		class?: string;
	}
	let { views, view, sceneId, label, class: extra = '' }: Props = $props();
	const session = useSession();

	function watched(canvas: HTMLCanvasElement) {
		const context = canvas.getContext('2d', { alpha: false })!;
		const show = (frame: VideoFrame, order: number) => {
			const area = untrack(() => {
				if (sceneId === undefined) return { x: 0, y: 0, width: frame.displayWidth, height: frame.displayHeight };
				const ids = session.state.setup.scenes.map(({ id }) => id);
				return sceneOnWall(ids, sceneId, order);
			});
			if (!area) return;
			const { x, y, width, height } = area;
			if (canvas.width !== width || canvas.height !== height) Object.assign(canvas, { width, height });
			context.drawImage(frame, x, y, width, height, 0, 0, width, height);
		};
		let leave = () => {};
		const stop = watchSeen(canvas, (seen) => {
			leave();
			leave = seen ? views.watch(view, show) : () => {};
		});
		return () => {
			stop();
			leave();
		};
	}
</script>

{#if canWatch()}
	<canvas
		class="object-contain {extra}"
		{@attach watched}
		role={label === '' ? 'presentation' : 'img'}
		aria-label={label || undefined}
	></canvas>
{/if}
