<script lang="ts">
	/** The page of a guest who is made up, with what can go wrong with them on switches. */
	import { untrack } from 'svelte';
	import {
		GUEST_FAULTS,
		STAND_IN_GUESTS,
		StandInDevices,
		type GuestFault,
	} from '../../engine/guests/stand-in-guest.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import { guest as words } from '../words/index.ts';
	import GuestPage from './GuestPage.svelte';

	interface Props {
		eventId: string;
		guestId: string;
		title: string;
		name: string;
		/** Which of the stand-ins, “-720” behind it for a large picture; the first when there is none of that name. */
		standIn: string;
	}
	let { standIn, ...rest }: Props = $props();
	const [asked, isLarge] = untrack(() => [standIn.replace(/-720$/, ''), standIn.endsWith('-720')] as const);
	const who = STAND_IN_GUESTS.find(({ id }) => id === asked) ?? STAND_IN_GUESTS[0];
	const devices = new StandInDevices(who.id, isLarge);
	let fault = $state<GuestFault>('none');
	function change(to: GuestFault) {
		fault = to;
		devices.break(to);
	}
</script>

<GuestPage {...rest} standIn={devices} />
<aside class="mx-auto grid max-w-5xl gap-1 p-4 text-sm dark:text-paper">
	<p>{words.standInIs}</p>
	<ChoiceField
		label={words.standInFault}
		value={fault}
		choices={GUEST_FAULTS.map((each) => [each, words.standInFaults[each]] as const)}
		onchange={change}
	/>
	<!-- Whoever has a link may open it twice; only one page can be them. -->
	<div><Button onclick={() => window.open(location.href)}>{words.standInTwice}</Button></div>
</aside>
