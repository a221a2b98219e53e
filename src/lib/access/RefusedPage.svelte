<script lang="ts">
	/** For somebody who is in, but not for this. */
	import type { AnyRole } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import { access as words, roleList, roleNames } from '../words/index.ts';
	import Frame from './Frame.svelte';
	import { enter } from './go.ts';

	interface Props {
		who: AnyRole[];
		me: { name: string; role: AnyRole | null } | null;
	}
	let { who, me }: Props = $props();

	async function signOut() {
		await askServer('/api/access/sign-out', 'POST', {});
		enter('/sign-in');
	}
</script>

<Frame title={words.refused}>
	{#if who.length > 0}<p>{words.refusedWho(roleList(who))}</p>{/if}
	{#if me}<p class="text-gray-600">{words.refusedAs(me.name, me.role ? roleNames[me.role] : '–')}</p>{/if}
	<div class="flex flex-wrap gap-2">
		<Button look="main" size="touch" href="/">{words.toStart}</Button>
		<Button size="touch" onclick={() => void signOut()}>{words.signOut}</Button>
	</div>
</Frame>
