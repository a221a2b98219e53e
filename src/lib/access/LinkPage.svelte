<script lang="ts">
	/** Opens a link for one event; its secret is in the part of the address that no server sees. A guest is told first to what. */
	import { onMount } from 'svelte';
	import Invitation from '../guest/Invitation.svelte';
	import { askServer } from '../ui/ask.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words, guest as guestWords } from '../words/index.ts';
	import Frame from './Frame.svelte';
	import { enter, pageOf } from './go.ts';

	interface Looked {
		role: string;
		eventId: string;
		guestId?: string;
		/** True in a browser that has opened it before. */
		isIn?: boolean;
		invitation?: { title: string; organisation: string; startsAt: string; timeZone: string };
	}
	/** A phone that is to be a camera is asked nothing. */
	const isPhone = () => new URLSearchParams(location.search).has('camera');
	let secret = '';
	let address = $state('');
	let looked = $state.raw<Looked | null>(null);
	let problem = $state('');

	onMount(async () => {
		secret = location.hash.slice(1);
		address = location.href;
		// Nobody reads it from the screen or from the list of visited pages.
		history.replaceState(null, '', location.pathname + location.search);
		const result = await askServer<Looked>('/api/access/link/look', 'POST', { secret });
		if ('problem' in result) problem = result.problem;
		else if (result.answer.isIn) enterAs(result.answer);
		else if (result.answer.invitation && !isPhone()) looked = result.answer;
		else await open();
	});

	async function open() {
		const opened = await askServer<Looked>('/api/access/link', 'POST', { secret });
		if ('problem' in opened) {
			looked = null;
			problem = opened.problem;
		} else enterAs(opened.answer);
	}
	const enterAs = ({ role, eventId, guestId }: Looked) =>
		enter(guestId ? `/events/${eventId}/guest/${guestId}${location.search}` : pageOf(role, eventId));
</script>

<Frame title={problem ? words.linkFailed : looked?.invitation ? guestWords.youAreInvited : words.linkTitle}>
	{#if problem}
		<Warning urgent>{problem}</Warning>
	{:else if looked?.invitation}
		<Invitation invitation={looked.invitation} {address} oncome={() => void open()} />
	{/if}
</Frame>
