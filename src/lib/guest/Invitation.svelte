<script lang="ts">
	/** Who invites to what, when, and what will be asked: the first thing that a guest sees. */
	import { Input, Label } from 'flowbite-svelte';
	import { momentOf } from '../../core/show/runsheet/clock-time.ts';
	import Button from '../ui/Button.svelte';
	import Warning from '../ui/Warning.svelte';
	import { guest as words } from '../words/index.ts';

	interface Props {
		invitation: { title: string; organisation: string; startsAt: string; timeZone: string };
		/** The whole address, to be opened elsewhere. */
		address: string;
		oncome: () => void;
	}
	let { invitation, address, oncome }: Props = $props();

	/** Browsers inside other apps may not use cameras: on Android they say so, on iOS they lack the name of the browser. */
	const isInsideApp = (agent: string) =>
		/; wv\)/.test(agent) || (/iPhone|iPad|iPod/.test(agent) && /AppleWebKit/.test(agent) && !/Safari\//.test(agent));
	const canUseCamera = typeof navigator.mediaDevices?.getUserMedia === 'function' && !isInsideApp(navigator.userAgent);

	/** In the guest's own time zone, and their own way of writing it. */
	const WRITTEN = new Intl.DateTimeFormat(undefined, { dateStyle: 'full', timeStyle: 'short' });
	const when = $derived.by(() => {
		const at = momentOf(invitation.startsAt, invitation.timeZone);
		return at === null ? '' : WRITTEN.format(at);
	});
	let copied = $state(false);
	async function copy() {
		copied = await navigator.clipboard.writeText(address).then(
			() => true,
			() => false,
		);
	}
</script>

<p>{invitation.organisation ? words.invitedTo(invitation.organisation) : words.youAreInvited}</p>
<p class="text-2xl font-bold">{invitation.title}</p>
<p>{words.byVideo} {when ? words.when(when) : ''}</p>
{#if canUseCamera}
	<p>{words.asked}</p>
	<p>{words.headphonesHelp}</p>
	<Button look="main" size="touch" onclick={oncome}>{words.getReady}</Button>
{:else}
	<Warning urgent>{words.noCameraHere}</Warning>
	<Label>
		{words.address}
		<Input
			class="mt-1 min-h-11"
			readonly
			value={address}
			onfocus={({ target }) => (target as HTMLInputElement).select()}
		/>
	</Label>
	<Button look="main" size="touch" onclick={() => void copy()}>{copied ? words.copied : words.copy}</Button>
{/if}
