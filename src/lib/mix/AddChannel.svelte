<script lang="ts">
	/** Takes one more input of a source into the mix. */
	import {} from 'flowbite-svelte';
	import { MOST_NAME_LETTERS } from '../../core/show/basics.ts';
	import { plainChannel } from '../../core/show/mix/mix.ts';
	import { kindOf } from '../../core/show/sources/source.ts';
	import { useSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import ChoiceMenu from '../ui/ChoiceMenu.svelte';
	import { choicesAmong } from '../ui/choices.ts';
	import { mix as words } from '../words/index.ts';

	interface Props {
		onadded: (channelId: string) => void;
	}
	let { onadded }: Props = $props();
	const session = useSession();
	const show = $derived(session.state);

	const sounds = $derived(show.setup.sources.filter((source) => kindOf(source).brings.sound === 'always'));

	function add(sourceId: string) {
		const source = sounds.find(({ id }) => id === sourceId);
		if (!source) return;
		const used = show.setup.channels.filter((channel) => channel.sourceId === sourceId).flatMap(({ inputs }) => inputs);
		const free = Array.from({ length: 32 }, (_, i) => i).find((i) => !used.includes(i)) ?? 0;
		const id = newId();
		const channel = plainChannel(id, sourceId, `${source.name} ${free + 1}`.slice(0, MOST_NAME_LETTERS), [free]);
		// Nobody should be startled by what nobody has listened to yet.
		if (session.do({ type: 'addChannel', channel: { ...channel, muted: true } })) onadded(id);
	}
</script>

<ChoiceMenu
	label={words.addChannel}
	title={words.addChannelFrom}
	class="m-2 w-auto self-start"
	look="min-h-11"
	choices={choicesAmong(sounds)}
	onchoose={add}
/>
