<script lang="ts">
	/** The picture of a camera or a screen as it comes. */
	interface Props {
		track: MediaStreamTrack;
		label: string;
		/** As in a mirror: how people know themselves. */
		mirrored?: boolean;
		class?: string;
	}
	let { track, label, mirrored = false, class: extra = '' }: Props = $props();

	function show(node: HTMLVideoElement) {
		node.srcObject = new MediaStream([track]);
		node.play().catch(() => {});
		return () => (node.srcObject = null);
	}
</script>

<video
	{@attach show}
	muted
	playsinline
	aria-label={label}
	class="bg-black object-contain {extra}"
	class:-scale-x-100={mirrored}
></video>
