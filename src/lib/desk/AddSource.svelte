<script lang="ts">
	import { Modal, Select } from 'flowbite-svelte';
	import { WHOLE } from '../../core/show/basics.ts';
	import type { Origin, Source } from '../../core/show/sources/source.ts';
	import type { ShowState } from '../../core/show/state.ts';
	import type { PrivacyPatch } from '../../core/show/overlays/overlay.ts';
	import { plainScene, wholeLayer } from '../../core/show/scenes/scene.ts';
	import { plainChannel } from '../../core/show/mix/mix.ts';
	import { addingSource } from '../../core/show/sources/adding.ts';
	import { plainSource } from '../../core/show/sources/source.ts';
	import { listDevices, type DeviceOffer } from '../../engine/device.ts';
	import { prepareStill } from '../../engine/still.ts';
	import { newId, type DeskSession } from './session.svelte.ts';

	interface Props {
		session: DeskSession;
		show: ShowState;
		open: boolean;
	}
	let { session, show, open = $bindable() }: Props = $props();

	let offers = $state.raw<DeviceOffer[]>([]);
	let problem = $state('');
	let looking = $state(false);
	/** Chosen size by device, as "width x height"; empty is the device's own choice. */
	let sizes = $state<Record<string, string>>({});

	const STAND_INS: { standIn: string; name: string; kind: Source['kind'] }[] = [
		{ standIn: 'lectern', name: 'Lectern', kind: 'camera' },
		{ standIn: 'chapel-wide', name: 'Chapel wide', kind: 'camera' },
		{ standIn: 'choir-left', name: 'Choir left', kind: 'camera' },
		{ standIn: 'frozen-camera', name: 'Frozen camera', kind: 'camera' },
		{ standIn: 'black-camera', name: 'Black camera', kind: 'camera' },
		{ standIn: 'console', name: 'Console', kind: 'sound' },
	];

	async function look() {
		looking = true;
		try {
			offers = await listDevices();
			problem = '';
		} catch (error) {
			problem = (error as Error).message;
		} finally {
			looking = false;
		}
	}

	// Devices come and go while the list is open.
	$effect(() => {
		if (!open) return;
		void look();
		navigator.mediaDevices?.addEventListener('devicechange', look);
		return () => navigator.mediaDevices?.removeEventListener('devicechange', look);
	});

	const sizeItems = ({ sizes: offered }: DeviceOffer) => [
		{ value: '', name: 'Its own size' },
		...offered.map(({ width, height }) => ({ value: `${width}x${height}`, name: `${width} × ${height}` })),
	];

	function addDevice({ kind, deviceId, label }: DeviceOffer) {
		const [width, height] = (sizes[deviceId] || 'x').split('x').map(Number);
		const size = width && height ? { width, height } : {};
		add(kind, label.replace(/\s*\([0-9a-f]{4}:[0-9a-f]{4}\)$/, ''), {
			from: 'device',
			deviceId,
			label,
			cleaned: false,
			...size,
		});
	}

	function add(kind: Source['kind'], name: string, origin: Origin, id = newId(), patches: PrivacyPatch[] = []) {
		const scenes = kind === 'sound' ? [] : [plainScene(`${id}-scene`, name, [wholeLayer(`${id}-layer`, id)])];
		const channels = kind === 'sound' ? [plainChannel(`${id}-channel`, id, name)] : [];
		const source = plainSource(id, name, kind, origin);
		session.doWithUndo(addingSource(show, source, { scenes, channels, patches }), `${name} was added.`);
		open = false;
	}

	let startPatched = $state(true);
	let problemHere = $state('');
	let keeping = $state('');

	async function addShare() {
		problemHere = '';
		try {
			const id = newId();
			await session.share(id);
			const shared = show.setup.sources.filter(({ kind }) => kind === 'screen').length;
			const name = shared === 0 ? 'Shared screen' : `Shared screen ${shared + 1}`;
			const patch: PrivacyPatch = {
				id: newId(),
				name,
				sourceId: id,
				area: { ...WHOLE },
				style: 'blur',
				strength: 6,
				on: true,
				follow: false,
			};
			add('screen', name, { from: 'share' }, id, startPatched ? [patch] : []);
		} catch (error) {
			problemHere = (error as Error).message;
		}
	}

	async function addFiles(files: FileList | null) {
		problemHere = '';
		for (const file of files ?? []) {
			keeping = file.name;
			try {
				const body = await prepareStill(file);
				const response = await fetch(`/api/events/${session.eventId}/files`, { method: 'POST', body });
				const answer = (await response.json()) as { id?: string; message?: string };
				if (!answer.id) throw new Error(answer.message ?? 'The file could not be kept.');
				const name = file.name.replace(/\.[^.]+$/, '').slice(0, 120) || 'Still';
				add('still', name, { from: 'file', fileId: answer.id, fileName: file.name.slice(0, 200) });
			} catch (error) {
				problemHere = (error as Error).message;
			}
		}
		keeping = '';
	}

	const PAPER = '#12161c';
	const INK = '#ece7db';
	const addCard = () =>
		add('card', 'Card', {
			from: 'card',
			card: { layout: 'centred', lines: [{ says: 'event' }, { says: 'date' }], paper: PAPER, ink: INK },
		});
	const addClock = () => add('clock', 'Clock', { from: 'clock', clock: { shows: 'time' }, paper: PAPER, ink: INK });
	const addColour = () => add('colour', 'Colour', { from: 'colour', colour: '#28303a' });

	const used = (deviceId: string) =>
		show.setup.sources.some(({ origin }) => origin.from === 'device' && origin.deviceId === deviceId);
</script>

<Modal bind:open size="md" title="Add a source">
	<div class="grid gap-4 text-gray-900 dark:text-paper">
		<section>
			<h3 class="mb-2 font-semibold">Cameras and microphones of this machine</h3>
			{#if problem}<p role="alert" class="border-l-4 border-lamp pl-3">{problem}</p>{/if}
			<ul class="grid gap-2">
				{#each offers as offer (offer.kind + offer.deviceId)}
					<li class="flex items-center gap-3 rounded-sm border border-slate-rule p-2">
						<span class="min-w-0 flex-1">
							<span class="block truncate font-semibold">{offer.label}</span>
							<span class="text-sm text-gray-500 dark:text-gray-300">
								{offer.kind === 'camera' ? 'Camera' : 'Sound'}{used(offer.deviceId) ? ', in use here' : ''}
							</span>
						</span>
						{#if offer.kind === 'camera'}
							<Select
								class="w-40"
								size="sm"
								placeholder=""
								items={sizeItems(offer)}
								bind:value={() => sizes[offer.deviceId] ?? '', (value) => (sizes[offer.deviceId] = value)}
								aria-label="Picture size of {offer.label}"
							/>
						{/if}
						<button class="act" onclick={() => addDevice(offer)}>Add</button>
					</li>
				{:else}
					<li class="rounded-sm border-2 border-dashed border-gray-500 p-3">
						{looking ? 'Looking for devices…' : 'None found. Plug one in; it appears here by itself.'}
					</li>
				{/each}
			</ul>
		</section>
		<section class="grid gap-2">
			<h3 class="font-semibold">Screens, stills, and what Bivvo draws itself</h3>
			{#if problemHere}<p role="alert" class="border-l-4 border-lamp pl-3">{problemHere}</p>{/if}
			<div class="flex flex-wrap items-center gap-2">
				<button class="act" onclick={addShare}>Share a screen or window</button>
				<label class="flex items-center gap-2 text-sm">
					<input type="checkbox" class="tick" bind:checked={startPatched} />
					start unreadable, until you uncover it
				</label>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				<label class="act cursor-pointer focus-within:border-lamp">
					{keeping ? `Keeping ${keeping}…` : 'Add a still'}
					<input
						type="file"
						class="sr-only"
						accept="image/png,image/jpeg,image/webp,image/svg+xml,video/webm"
						multiple
						onchange={({ currentTarget }) => void addFiles(currentTarget.files)}
					/>
				</label>
				<button class="act" onclick={addCard}>Card</button>
				<button class="act" onclick={addClock}>Clock</button>
				<button class="act" onclick={addColour}>Colour</button>
			</div>
		</section>
		<section>
			<h3 class="mb-2 font-semibold">Stand-ins, for trying things out</h3>
			<div class="flex flex-wrap gap-2">
				{#each STAND_INS as { standIn, name, kind } (standIn)}
					<button class="act" onclick={() => add(kind, name, { from: 'standIn', standIn })}>{name}</button>
				{/each}
			</div>
		</section>
	</div>
</Modal>
