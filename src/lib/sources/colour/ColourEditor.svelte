<script lang="ts">
	/** The colour that fills the picture. */
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, onchange }: EditorProps<SourceOf<'colour'>> = $props();
</script>

<label class="flex items-center justify-between">
	Colour
	<input
		type="color"
		class="h-8 w-14 bg-transparent"
		value={source.colour}
		onchange={({ currentTarget }) => onchange({ ...source, colour: currentTarget.value })}
	/>
</label>
