<script lang="ts">
	/** Who may come in: people, invitations, paired devices. */
	import { formatDistanceToNow, format } from 'date-fns';
	import { Card, Checkbox, Input } from 'flowbite-svelte';
	import { untrack } from 'svelte';
	import { ROLES, type Role } from '../../core/access/roles.ts';
	import { askServer } from '../ui/ask.ts';
	import Button from '../ui/Button.svelte';
	import ChoiceField from '../ui/ChoiceField.svelte';
	import type { Choice } from '../ui/choices.ts';
	import Fold from '../ui/Fold.svelte';
	import { siteAddress } from '../ui/site-address.ts';
	import Warning from '../ui/Warning.svelte';
	import { access as words, nodes, roleNames } from '../words/index.ts';
	import AskForm from './AskForm.svelte';
	import Field from './Field.svelte';
	import OrganisationsBox from './OrganisationsBox.svelte';
	import PairDevice from './PairDevice.svelte';
	import type { DeviceShown, InvitationShown, PersonShown } from './people.ts';
	import Programs from './Programs.svelte';
	import RoleFields from './RoleFields.svelte';
	import { invalidateAll } from '$app/navigation';

	interface Props {
		people: PersonShown[];
		invitations: InvitationShown[];
		devices: DeviceShown[];
		events: { id: string; title: string }[];
		settings: { reachesLocal: boolean; recordingsFolder: string };
		organisations: { id: string; name: string }[] | null;
		/** True where this server is one of several nodes. */
		hasNodes: boolean;
	}
	let { people, invitations, devices, events, settings, organisations, hasNodes }: Props = $props();

	let name = $state('');
	let role = $state<Role>('sound');
	let eventId = $state<string | null>(null);
	let invited = $state<{ name: string; link: string } | null>(null);
	let isCopied = $state(false);
	let problem = $state('');
	let removed = $state<PersonShown | null>(null);
	let says = $state('');
	let folder = $state(untrack(() => settings.recordingsFolder));

	const roles = ROLES.map((each): Choice<Role> => [each, roleNames[each]]);
	const seen = (at: number | null) => (at === null ? '' : words.seen(formatDistanceToNow(at, { addSuffix: true })));
	const titleOf = (id: string | null) =>
		id === null ? words.allEvents : (events.find((each) => each.id === id)?.title ?? id);

	async function ask(path: string, method: string, body: unknown = {}): Promise<boolean> {
		const result = await askServer(path, method, body);
		problem = 'problem' in result ? result.problem : '';
		await invalidateAll();
		return problem === '';
	}
	async function showInvitation({ secret }: { secret: string }) {
		invited = { name, link: siteAddress('/join', secret) };
		isCopied = false;
		name = '';
		await invalidateAll();
	}
	async function copy(text: string) {
		isCopied = await navigator.clipboard.writeText(text).then(
			() => true,
			() => false,
		);
	}
	async function remove(person: PersonShown) {
		if (await ask(`/api/access/people/${person.id}`, 'PATCH', { removed: true })) removed = person;
	}
	async function bringBack() {
		if (removed && (await ask(`/api/access/people/${removed.id}`, 'PATCH', { removed: false }))) removed = null;
	}
	async function revoke({ id, name: device }: DeviceShown) {
		if (await ask(`/api/access/devices/${id}`, 'DELETE')) says = words.revoked(device);
	}
</script>

<svelte:head><title>{words.people}</title></svelte:head>

<main class="mx-auto grid max-w-5xl grid-cols-1 gap-6 p-4 sm:p-8 md:grid-cols-[minmax(0,1fr)_20rem] md:gap-10">
	<header class="md:col-span-2">
		<nav class="text-sm"><a class="inline-block min-h-6 underline" href="/">{words.toStart}</a></nav>
		<h1 class="text-3xl font-bold">{words.people}</h1>
		<nav class="mt-2 flex gap-4">
			<a class="inline-block min-h-6 underline" href="/audit">{words.audit}</a>
			{#if hasNodes}<a class="inline-block min-h-6 underline" href="/nodes">{nodes.nodes}</a>{/if}
		</nav>
	</header>
	<div class="grid content-start gap-8">
		{#if problem}<Warning urgent>{problem}</Warning>{/if}
		<section aria-labelledby="people">
			<h2 id="people" class="mb-3 text-xl font-semibold">{words.peopleOf}</h2>
			{#if removed}
				<p class="mb-3 flex items-center gap-4" role="status">
					{words.removed(removed.name)}
					<Button size="sm" onclick={() => void bringBack()}>{words.undo}</Button>
				</p>
			{/if}
			{#if people.length === 0}
				<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">{words.noPeople}</p>
			{/if}
			<ul class="grid gap-3">
				{#each people as person (person.id)}
					<li>
						<Card class="flex flex-row flex-wrap items-center gap-3 p-4">
							<div class="min-w-0 flex-1">
								<h3 class="font-semibold break-words">{person.name}</h3>
								<p class="text-sm text-gray-600">
									{[
										person.login,
										person.hasSecondFactor ? words.twoFactors : '',
										person.passkeys > 0 ? words.passkeys : '',
										seen(person.seenAt),
									]
										.filter(Boolean)
										.join(', ')}
								</p>
								{#each Object.entries(person.roleAt) as [id, at] (id)}
									<p class="text-sm text-gray-600">{titleOf(id)}: {roleNames[at]}</p>
								{/each}
							</div>
							{#if person.role}
								<ChoiceField
									class="w-auto"
									label={`${words.role}: ${person.name}`}
									value={person.role}
									choices={roles}
									onchange={(chosen) =>
										void ask(`/api/access/people/${person.id}`, 'PATCH', { role: chosen, roleAt: person.roleAt })}
								/>
							{/if}
							<Button size="touch" onclick={() => void remove(person)}>{words.remove}</Button>
						</Card>
					</li>
				{/each}
			</ul>
			{#if invitations.length > 0}
				<h3 class="mt-5 mb-2 font-semibold">{words.invited}</h3>
				<ul class="grid gap-2">
					{#each invitations as invitation (invitation.id)}
						<li class="flex flex-wrap items-center gap-3">
							<span class="min-w-0 flex-1">
								{invitation.name}{invitation.role ? `, ${roleNames[invitation.role]}` : ''},
								{words.invitedUntil(format(invitation.expiresAt, 'd MMM, HH:mm'))}
							</span>
							<Button size="sm" onclick={() => void ask(`/api/access/invitations/${invitation.id}`, 'DELETE')}
								>{words.takeBack}</Button
							>
						</li>
					{/each}
				</ul>
			{/if}
		</section>
		<section aria-labelledby="devices">
			<h2 id="devices" class="mb-3 text-xl font-semibold">{words.devices}</h2>
			{#if says}<Warning>{says}</Warning>{/if}
			{#if devices.length === 0}
				<p class="rounded-sm border-2 border-dashed border-gray-300 p-6 text-gray-600">{words.noDevices}</p>
			{/if}
			<ul class="grid gap-3">
				{#each devices as device (device.id)}
					<li>
						<Card class="flex flex-row flex-wrap items-center gap-3 p-4">
							<div class="min-w-0 flex-1">
								<h3 class="font-semibold break-words">{device.name}</h3>
								<p class="text-sm text-gray-600">
									{[roleNames[device.role], titleOf(device.eventId), seen(device.seenAt)].filter(Boolean).join(', ')}
								</p>
							</div>
							<Button size="touch" onclick={() => void revoke(device)}>{words.revoke}</Button>
						</Card>
					</li>
				{/each}
			</ul>
			<Card class="mt-3 gap-4 p-5">
				<Fold title={words.pairDevice}>
					<PairDevice {events} onpaired={() => void invalidateAll()} />
				</Fold>
			</Card>
		</section>
		<Programs {events} />
	</div>
	<div class="grid content-start gap-4">
		<Card class="gap-4 p-5">
			<h2 class="text-xl font-semibold">{words.invite}</h2>
			<AskForm
				to="/api/access/invitations"
				body={() => ({
					name,
					role: eventId === null ? role : null,
					roleAt: eventId === null ? {} : { [eventId]: role },
				})}
				submit={words.inviteNow}
				ondone={showInvitation}
			>
				<Field label={words.inviteName} bind:value={name} autocomplete="off" />
				<RoleFields bind:role bind:eventId {events} />
			</AskForm>
			{#if invited}
				<p>{words.inviteLink(invited.name)}</p>
				<Input readonly value={invited.link} aria-label={words.invite} data-invitation />
				<Button onclick={() => void copy(invited!.link)}>{isCopied ? words.copied : words.copy}</Button>
			{/if}
		</Card>
		<Card class="gap-2 p-5">
			<h2 class="text-xl font-semibold">{words.network}</h2>
			<Checkbox
				checked={settings.reachesLocal}
				onchange={() => void ask('/api/access/settings', 'PUT', { ...settings, reachesLocal: !settings.reachesLocal })}
				>{words.reachesLocal}</Checkbox
			>
			<p class="text-sm text-gray-600">{words.reachesLocalHint}</p>
		</Card>
		{#if organisations}
			<Card class="gap-2 p-5">
				<h2 class="text-xl font-semibold">{words.recordings}</h2>
				<form
					class="grid gap-2"
					onsubmit={(event) => {
						event.preventDefault();
						void ask('/api/access/settings', 'PUT', { ...settings, recordingsFolder: folder });
					}}
				>
					<Field label={words.recordingsFolder} bind:value={folder} autocomplete="off" />
					<Button type="submit" class="justify-self-start" disabled={folder.trim() === settings.recordingsFolder}
						>{words.recordingsUse}</Button
					>
				</form>
				<p class="text-sm text-gray-600">{words.recordingsFolderHint}</p>
			</Card>
			<Card class="p-5"><OrganisationsBox {organisations} /></Card>
		{/if}
	</div>
</main>
