<script lang="ts">
	/** What the browser does to a sound before it comes to the mix. */
	import { Checkbox, Label } from 'flowbite-svelte';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import { kinds as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, onchange }: EditorProps<SourceOf<'microphone'>> = $props();
</script>

<Label class="flex items-start gap-2">
	<Checkbox
		type="checkbox"
		class="mt-1"
		checked={source.cleaned}
		onchange={() => onchange({ ...source, cleaned: !source.cleaned })}
	/>
	<span>
		{words.cleanUpInBrowserEcho}
		<span class="block text-xs text-gray-300">{words.microphoneOnDeskLeaveOff}</span>
	</span>
</Label>
