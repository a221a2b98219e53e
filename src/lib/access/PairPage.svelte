<script lang="ts">
	/** Makes this browser a paired device. */
	import { onMount } from 'svelte';
	import { access as words } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import Frame from './Frame.svelte';
	import { enter, pageOf } from './go.ts';

	let code = $state('');
	onMount(() => {
		// From the picture that the desk shows.
		code = location.hash.slice(1);
		history.replaceState(null, '', location.pathname);
	});
	const goOn = ({ role, eventId, opens }: { role: string; eventId: string | null; opens: string }) =>
		enter(pageOf(role, eventId, opens));
</script>

<Frame title={words.pair}>
	<p class="text-gray-600">{words.pairHint}</p>
	<AskForm to="/api/access/pair" body={() => ({ code })} submit={words.pairNow} ondone={goOn}>
		<Field
			label={words.pairCode}
			bind:value={code}
			autocomplete="off"
			class="figures text-2xl tracking-widest uppercase"
		/>
	</AskForm>
</Frame>
