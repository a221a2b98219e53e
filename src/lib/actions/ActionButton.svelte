<script lang="ts">
	/** The button of an action: its words, its key as a hint, lit while what it switches is on. */
	import type { Snippet } from 'svelte';
	import { useSession } from '../show/context.ts';
	import Button from '../ui/Button.svelte';
	import type { ButtonSize, Lit, Look } from '../ui/theme.ts';
	import { actions as words } from '../words/index.ts';
	import { ACTIONS } from './actions.ts';
	import { useActions } from './context.ts';
	import { keysOf, keyWords } from './key-map.ts';

	interface Props {
		/** Of the action, as the registry has it. */
		action: string;
		look?: Look;
		size?: ButtonSize;
		lit?: Lit;
		class?: string;
		/** Instead of the action's label. */
		children?: Snippet;
	}
	let { action: id, look = 'plain', size = 'md', lit = 'fill', class: extra = '', children }: Props = $props();

	const session = useSession();
	const { keys, run } = useActions();
	const action = $derived(ACTIONS.get(id)!);
	const label = $derived(action.label?.(session.state) ?? action.words);
	const key = $derived(keysOf(id, keys.chosen)[0]);
</script>

<Button
	{look}
	{size}
	{lit}
	class={extra}
	disabled={action.isPossible?.(session.state) === false}
	aria-pressed={action.isLit?.(session.state)}
	aria-label={children ? label : undefined}
	hint={key ? words.withKey(action.words, keyWords(key)) : action.words}
	onpress={(event) => run(action, event)}
	>{#if children}{@render children()}{:else}{label}{/if}</Button
>
