<script lang="ts">
	/** A role, and for which event it holds. */
	import { Helper, Label } from 'flowbite-svelte';
	import { ROLES, type Role } from '../../core/access/roles.ts';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { choicesAmong, type Choice } from '../ui/choices.ts';
	import { access as words, roleHints, roleNames } from '../words/index.ts';

	interface Props {
		role: Role;
		eventId: string | null;
		events: readonly { id: string; title: string }[];
		/** Not to be given. */
		but?: readonly Role[];
	}
	let { role = $bindable(), eventId = $bindable(), events, but = [] }: Props = $props();

	const roles = $derived(
		ROLES.filter((each) => !but.includes(each)).map((each): Choice<Role> => [each, roleNames[each]]),
	);
	const places = $derived<Choice<string | null>[]>([
		[null, words.allEvents],
		...choicesAmong(events.map(({ id, title }) => ({ id, name: title }))),
	]);
</script>

<Label>
	{words.role}
	<ChoiceField value={role} choices={roles} onchange={(chosen) => (role = chosen)} class="mt-1 w-full" />
	<Helper class="mt-1">{roleHints[role]}</Helper>
</Label>
<Label>
	{words.pairFor}
	<ChoiceField value={eventId} choices={places} onchange={(chosen) => (eventId = chosen)} class="mt-1 w-full" />
</Label>
