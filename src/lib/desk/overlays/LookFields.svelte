<script lang="ts">
	/** How all looks that Bivvo draws for viewers: a family, three colours, and who invites. */
	import { Input, Label } from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../../core/show/basics.ts';
	import { FAMILIES, type Family, type Look } from '../../../core/show/event/look.ts';
	import { useSession } from '../../show/context.ts';
	import Button from '../../ui/Button.svelte';
	import ColourField from '../../ui/ColourField.svelte';
	import { overlays as words } from '../../words/index.ts';

	const session = useSession();
	const look = $derived(session.state.setup.look);
	const change = (part: Partial<Look>) => session.do({ type: 'setLook', look: { ...look, ...part } });
	const NAMES: Record<Family, string> = words.families;
</script>

<div class="grid gap-2">
	<div class="grid grid-cols-4 gap-1" role="group" aria-label={words.family}>
		{#each FAMILIES as family (family)}
			<Button
				size="sm"
				lit="edge"
				aria-pressed={look.family === family}
				hint={words.familyHints[family]}
				onclick={() => change({ family })}>{NAMES[family]}</Button
			>
		{/each}
	</div>
	<div class="flex flex-wrap justify-between gap-2">
		{#each [['paper', words.lookPaper], ['ink', words.lookInk], ['accent', words.lookAccent]] as const as [name, label] (name)}
			<ColourField {label} value={look[name]} onchange={(colour) => change({ [name]: colour })} />
		{/each}
	</div>
	<Label class="grid gap-1">
		{words.organisation}
		<Input
			size="sm"
			maxlength={MOST_NAME_LETTERS}
			placeholder={words.organisationPlace}
			value={look.organisation}
			onchange={({ currentTarget }) => change({ organisation: currentTarget.value })}
		/>
	</Label>
</div>
