<script lang="ts">
	/** What a press does: an action, what it is about, which way, what is said. */
	import { Input } from 'flowbite-svelte';
	import {
		ACTION_IDS,
		ACTION_SUBJECTS,
		SPOKEN,
		SWITCHES,
		type ActionId,
		type Order,
	} from '../../core/show/actions/order.ts';
	import { firstOrder, subjectsOf } from '../../core/show/actions/subjects.ts';
	import { useSession } from '../show/context.ts';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import { actionNames, macroName, panelEditor as words, subjectNames, switchNames } from '../words/index.ts';

	interface Props {
		label: string;
		order: Order | null;
		onchange: (order: Order | null) => void;
		/** Actions that cannot be chosen here. */
		without?: readonly ActionId[];
		/** What stands for doing nothing; without it something is always done. */
		none?: string;
	}
	let { label, order, onchange, without = [], none }: Props = $props();
	const session = useSession();
	const { setup } = $derived(session.state);

	const choices = $derived<Choice<string>[]>([
		...(none === undefined ? [] : [['', none] as Choice<string>]),
		...ACTION_IDS.filter((id) => !without.includes(id)).map((id): Choice<string> => [
			id,
			actionNames[id],
			firstOrder(setup, id, words.saysWhat) !== null,
		]),
	]);
	const subject = $derived(order && ACTION_SUBJECTS[order.action]);
	const nameOf = ({ id, name }: { id: string; name: string }) =>
		subject === 'macro'
			? macroName(id, name)
			: subject === 'group'
				? words.groups[name as keyof typeof words.groups]
				: name;
	const things = $derived.by<Choice<string>[]>(() => {
		if (!subject) return [];
		const all = subjectsOf(setup, subject).map((each): Choice<string> => [each.id, nameOf(each)]);
		const isThere = all.some(([id]) => id === order?.of);
		return isThere || order?.of === undefined ? all : [[order.of, words.isGone], ...all];
	});
	function choose(action: string) {
		if (action === '') return onchange(null);
		const made = firstOrder(setup, action as ActionId, words.saysWhat);
		if (made) onchange(made);
	}
	function setTo(to: string) {
		if (!order) return;
		const { to: _, ...rest } = order;
		onchange(to === 'on' || to === 'off' ? { ...rest, to } : rest);
	}
	const ways: Choice<string>[] = [
		['over', switchNames.over],
		['on', switchNames.on],
		['off', switchNames.off],
	];
</script>

<div class="grid gap-1" role="group" aria-label={label}>
	<span class="text-sm font-semibold">{label}</span>
	<ChoiceField {label} value={order?.action ?? ''} {choices} onchange={choose} />
	{#if order && subject}
		<ChoiceField
			label={subjectNames[subject]}
			value={order.of ?? ''}
			choices={things}
			onchange={(of) => onchange({ ...order, of })}
		/>
	{/if}
	{#if order && SWITCHES.includes(order.action)}
		<ChoiceField label={words.whichWay} value={order.to ?? 'over'} choices={ways} onchange={setTo} />
	{/if}
	{#if order && SPOKEN.includes(order.action)}
		<Input
			size="sm"
			maxlength={160}
			aria-label={words.saysLabel}
			value={order.text ?? ''}
			onchange={({ currentTarget }: Event & { currentTarget: HTMLInputElement }) => {
				const text = currentTarget.value.trim();
				if (text !== '') onchange({ ...order, text });
				else currentTarget.value = order.text ?? '';
			}}
		/>
	{/if}
</div>
