<script lang="ts">
	/** What changes from evening to evening: written once here, named in curly brackets wherever viewers read it. */
	import { Input, Label, Textarea } from 'flowbite-svelte';
	import { TrashBinOutline } from 'flowbite-svelte-icons';
	import { MOST_TEXT_LETTERS } from '../../core/show/basics.ts';
	import { MOST_FIELDS, type Field } from '../../core/show/event/fields.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Button from '../ui/Button.svelte';
	import NameField from '../ui/NameField.svelte';
	import { TEXTAREA } from '../ui/theme.ts';
	import { prepare as words } from '../words/index.ts';

	const session = useSession();
	const { fields, hostTitle, hostDescription, title } = $derived(session.state.setup);

	const change = (field: Field, part: Partial<Field>) =>
		session.do({ type: 'changeField', field: { ...field, ...part } });
	function add() {
		const names = fields.map(({ name }) => name);
		const name = words.newField.find((each) => !names.includes(each)) ?? `${words.newField[0]} ${names.length + 1}`;
		session.do({ type: 'addField', field: { id: newId(), name, value: '' } });
	}
	function remove({ id: fieldId, name }: Field) {
		session.doWithUndo({ type: 'removeField', fieldId }, words.fieldRemoved(name));
	}
	const setHost = (part: { title?: string; description?: string }) =>
		session.do({ type: 'setHostTexts', title: hostTitle, description: hostDescription, ...part });
</script>

<section class="grid gap-2" aria-labelledby="fields">
	<div class="flex flex-wrap items-center justify-between gap-2">
		<h2 id="fields" class="text-lg font-semibold">{words.fields}</h2>
		<Button disabled={fields.length >= MOST_FIELDS} onclick={add}>{words.addField}</Button>
	</div>
	<p class="text-sm text-gray-300">{words.fieldsHint}</p>
	<ul class="grid gap-2">
		{#each fields as field (field.id)}
			<li class="panel grid grid-cols-[10rem_minmax(0,1fr)_auto] items-center gap-2 p-2">
				<NameField label={words.fieldName} value={field.name} onchange={(name) => change(field, { name })} />
				<Input
					size="sm"
					aria-label={field.name}
					placeholder={words.fieldEmpty}
					maxlength={MOST_TEXT_LETTERS}
					value={field.value}
					onchange={({ currentTarget }) => change(field, { value: currentTarget.value })}
				/>
				<Button look="icon" aria-label={words.removeField(field.name)} onclick={() => remove(field)}
					><TrashBinOutline class="size-5 text-gray-300" /></Button
				>
			</li>
		{/each}
	</ul>
	<div class="panel grid gap-2 p-3">
		<Label class="grid gap-1">
			{words.hostTitle}
			<Input
				size="sm"
				maxlength={MOST_TEXT_LETTERS}
				placeholder={title}
				value={hostTitle}
				onchange={({ currentTarget }) => setHost({ title: currentTarget.value })}
			/>
		</Label>
		<Label class="grid gap-1">
			{words.hostDescription}
			<Textarea
				class={TEXTAREA}
				rows={2}
				maxlength={2000}
				value={hostDescription}
				onchange={(event: Event & { currentTarget: HTMLTextAreaElement }) =>
					setHost({ description: event.currentTarget.value })}
			/>
		</Label>
	</div>
</section>
