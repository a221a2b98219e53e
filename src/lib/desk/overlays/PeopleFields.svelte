<script lang="ts">
	/** Who may speak, sing or be thanked. */
	import { Input } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import type { Person } from '../../../core/show/overlays/overlay.ts';
	import { useSession } from '../../show/context.ts';
	import { newId } from '../../show/new-id.ts';
	import Button from '../../ui/Button.svelte';
	import NameField from '../../ui/NameField.svelte';
	import { overlays as words } from '../../words/index.ts';

	const session = useSession();
	const show = $derived(session.state);

	function changePerson(person: Person, part: Partial<Person>) {
		session.do({ type: 'changePerson', person: { ...person, ...part } });
	}
	function removePerson({ id: personId, name }: Person) {
		session.doWithUndo({ type: 'removePerson', personId }, words.removed(name));
	}
</script>

{#each show.setup.people as person (person.id)}
	<div class="grid gap-1 rounded-sm border border-slate-rule p-1">
		<div class="flex gap-1">
			<NameField label={words.name} value={person.name} onchange={(name) => changePerson(person, { name })} />
			<Button look="icon" aria-label={words.remove(person.name)} onclick={() => removePerson(person)}>
				<TrashBinOutline class="size-4" />
			</Button>
		</div>
		<Input
			size="sm"
			aria-label={words.role(person.name)}
			placeholder={words.rolePlace}
			maxlength={160}
			value={person.role}
			onchange={({ currentTarget }) => changePerson(person, { role: currentTarget.value.trim() })}
		/>
	</div>
{:else}
	<p class="border-2 border-dashed border-gray-500 p-2 text-gray-300">{words.nobodyYetWhoWillSpeak}</p>
{/each}
<Button
	size="xs"
	onclick={() => session.do({ type: 'addPerson', person: { id: newId(), name: words.newName, role: '' } })}
	>{words.addPerson}</Button
>
