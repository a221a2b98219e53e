<script lang="ts">
	/** Flowbite's button in Bivvo's looks and sizes. It can act on press, or while it is held, and explain itself. */
	import { Button, Tooltip } from 'flowbite-svelte';
	import type { Snippet } from 'svelte';
	import type { HTMLAnchorAttributes, HTMLButtonAttributes } from 'svelte/elements';
	import { hold } from './hold.ts';
	import { press } from './press.ts';
	import { BUTTON, type ButtonSize, type Lit, type Look } from './theme.ts';

	interface Own {
		look?: Look;
		/** Of plain and main buttons. */
		size?: ButtonSize;
		/** What shows that `aria-pressed` is true. */
		lit?: Lit;
		/** One sentence that explains what it does, shown while the pointer or the focus is on it. */
		hint?: string;
		/** Called when it is pressed, not when it is let go. */
		onpress?: (event: Event) => void;
		/** Called when it is held, and when it is let go. */
		onhold?: (held: boolean) => void;
		/** Makes it a link. */
		href?: string;
		target?: HTMLAnchorAttributes['target'];
		children?: Snippet;
	}
	type Props = Own & Omit<HTMLButtonAttributes, keyof Own | 'color' | 'title'>;
	let {
		look = 'plain',
		size = 'md',
		lit = 'fill',
		hint = '',
		onpress,
		onhold,
		class: extra = '',
		children,
		...rest
	}: Props = $props();

	const hasSize = $derived(look === 'plain' || look === 'main');
	const style = $derived([
		BUTTON.base,
		BUTTON.look[look],
		hasSize && BUTTON.size[size],
		look === 'plain' && BUTTON.lit[lit],
		extra,
	]);
	const attributes = $derived<Record<string, unknown>>({
		color: BUTTON.color,
		type: rest.form ? 'submit' : 'button',
		'aria-description': hint || undefined,
		...rest,
		class: style.filter(Boolean).join(' '),
	});
	const acts = press((event) => onpress?.(event));
	const holds = hold((held) => onhold?.(held));
	const HINT_DELAY_MS = 600;
</script>

<Button {...attributes} {@attach onpress && acts} {@attach onhold && holds}>{@render children?.()}</Button>
{#if hint}<Tooltip triggerDelay={HINT_DELAY_MS} class="max-w-64 text-xs font-normal whitespace-normal">{hint}</Tooltip
	>{/if}
