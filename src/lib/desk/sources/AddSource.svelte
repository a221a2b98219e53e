<script lang="ts">
	import { Checkbox, Input, Modal, Select } from 'flowbite-svelte';
	import QrCode from 'qrcode';
	import { tick } from 'svelte';
	import type { Media } from '../../../core/media/media.ts';
	import { WHOLE } from '../../../core/show/basics.ts';
	import type { PrivacyPatch } from '../../../core/show/overlays/overlay.ts';
	import { deviceNames } from '../../../core/show/sources/device-names.ts';
	import { plainCard } from '../../../core/show/sources/kinds/card.ts';
	import { plainClock } from '../../../core/show/sources/kinds/clock.ts';
	import { kindOf, type Origin } from '../../../core/show/sources/source.ts';
	import type { STAND_IN_GUESTS } from '../../../engine/guests/stand-in-guest.ts';
	import { listDevices, type DeviceOffer } from '../../../engine/sources/device.ts';
	import type { STAND_INS } from '../../../engine/sources/stand-ins.ts';
	import MediaPicker from '../../media/MediaPicker.svelte';
	import { newId } from '../../show/new-id.ts';
	import { shownKindOf } from '../../sources/kinds.ts';
	import { storeStill } from '../../sources/still/store.ts';
	import Button from '../../ui/Button.svelte';
	import FileButton from '../../ui/FileButton.svelte';
	import { siteAddress } from '../../ui/site-address.ts';
	import Warning from '../../ui/Warning.svelte';
	import { guest as guestWords, network as networkWords, sources as words } from '../../words/index.ts';
	import { problemWords } from '../../words/problem.ts';
	import { useDesk } from '../context.ts';
	import { makeGuestLink } from '../guests/links.ts';
	import DevicePreview from './DevicePreview.svelte';

	interface Props {
		open: boolean;
	}
	let { open = $bindable() }: Props = $props();
	const session = useDesk();
	const show = $derived(session.state);

	let offers = $state.raw<DeviceOffer[]>([]);
	let problem = $state('');
	let isListing = $state(false);
	/** Chosen size by device, as "width x height"; empty is that of the event. */
	let sizes = $state<Record<string, string>>({});
	/** Cameras of which the built-in microphone is wanted as well. */
	let sounds = $state<Record<string, boolean>>({});
	const names = $derived(
		new Map([
			...deviceNames(offers.flatMap(({ origin }) => (origin.kind === 'camera' ? [origin] : []))),
			...deviceNames(offers.flatMap(({ origin }) => (origin.kind === 'microphone' ? [origin] : []))),
		]),
	);

	/** Stand-ins come from one registration, which is loaded with them. */
	let standIns = $state.raw<typeof STAND_INS | null>(null);
	let guests = $state.raw<typeof STAND_IN_GUESTS | readonly []>([]);
	$effect(() => {
		if (!open) return;
		void import('../../../engine/sources/stand-ins.ts').then(({ STAND_INS }) => (standIns = STAND_INS));
		void import('../../../engine/guests/stand-in-guest.ts').then(({ STAND_IN_GUESTS }) => (guests = STAND_IN_GUESTS));
	});

	async function listOffers() {
		isListing = true;
		try {
			offers = await listDevices();
			problem = '';
		} catch (error) {
			problem = problemWords(error);
		} finally {
			isListing = false;
		}
	}

	// Devices come and go while the list is open.
	$effect(() => {
		if (!open) return;
		void listOffers();
		navigator.mediaDevices?.addEventListener('devicechange', listOffers);
		return () => navigator.mediaDevices?.removeEventListener('devicechange', listOffers);
	});

	const sizeItems = ({ sizes: offered }: DeviceOffer) => [
		{ value: '', name: words.asEvent(show.setup.picture.width, show.setup.picture.height) },
		...offered.map(({ width, height }) => ({ value: `${width}x${height}`, name: `${width} × ${height}` })),
	];

	let previews = $state(true);
	$effect(() => {
		if (open) previews = true;
	});
	/** Ends when no preview is being opened. */
	let opened: Promise<unknown> = Promise.resolve();
	const noteOpening = (opening: Promise<void>) => (opened = Promise.all([opened, opening]));

	/** A device that is open in a small size would be given to the next who asks in that size: previews end first. */
	async function addDevice({ origin }: DeviceOffer) {
		previews = false;
		await tick();
		await opened;
		const [width, height] = (sizes[origin.deviceId] || 'x').split('x').map(Number);
		const name = names.get(origin.deviceId) ?? origin.label;
		if (!('withSound' in origin)) return void add(name, origin);
		const withSound = sounds[origin.deviceId] ?? false;
		add(name, { ...origin, withSound, ...(width && height && { width, height }) });
	}

	function add(name: string, origin: Origin, id = newId(), patches: PrivacyPatch[] = []) {
		session.addSource(name, origin, id, patches);
		open = false;
	}

	/** Its sheet says what to type into it. */
	function addNetwork() {
		const before = show.setup.sources.filter(({ kind }) => kind === 'network').length;
		const name = before === 0 ? networkWords.name : networkWords.numbered(before + 1);
		const id = newId();
		add(name, { kind: 'network', cameraId: newId(), could: null }, id);
		session.sheet.editSource(id);
	}

	function addMedia(name: string, files: Media[]) {
		void session.addMedia(name, files);
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
			const shared = show.setup.sources.filter((source) => kindOf(source).scrolls).length;
			const name = shared === 0 ? words.sharedScreen : words.sharedScreenNumber(shared + 1);
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
			add(name, { kind: 'screen' }, id, startPatched ? [patch] : []);
		} catch (error) {
			problemHere = problemWords(error);
		}
	}

	async function addFiles(files: FileList) {
		problemHere = '';
		for (const file of files) {
			keeping = file.name;
			try {
				const { name, origin } = await storeStill(session.eventId, file);
				add(name, origin);
			} catch (error) {
				problemHere = problemWords(error);
			}
		}
		keeping = '';
	}

	/** A link that a phone opens by its camera, and the phone is one of the event's cameras. */
	let phone = $state.raw<{ name: string; code: string; address: string } | null>(null);
	$effect(() => {
		if (!open) phone = null;
	});
	async function callPhone() {
		problemHere = '';
		const phones = show.setup.sources.filter((source) => source.kind === 'seat' && source.reservedFor !== null).length;
		const name = guestWords.phoneNumber(phones + 1);
		const result = await makeGuestLink(session.eventId, name);
		if ('problem' in result) {
			problemHere = result.problem;
			return;
		}
		const address = siteAddress('/link?camera', result.answer.secret);
		session.addPhone(name, result.answer.id);
		phone = { name, address, code: await QrCode.toDataURL(address, { margin: 2, width: 220 }) };
	}

	/** A guest who is made up, on a page of their own, by a link as anybody's. The page is opened by the press itself. */
	async function callStandIn(standIn: string, name: string) {
		const opened = window.open('', '_blank');
		const result = await makeGuestLink(session.eventId, name);
		if ('problem' in result) {
			opened?.close();
			problemHere = result.problem;
			return;
		}
		if (opened) opened.location.href = `/link?standIn=${standIn}#${result.answer.secret}`;
		session.showLeft('guests');
		open = false;
	}

	const addCard = () =>
		add(words.card, {
			kind: 'card',
			card: plainCard({ lines: [{ says: 'event' }, { says: 'date' }] }),
		});
	const addClock = () => add(words.clock, { kind: 'clock', ...plainClock({ shows: 'time' }) });
	const addColour = () => add(words.colour, { kind: 'colour', colour: '#28303a' });

	const used = (deviceId: string) =>
		show.setup.sources.some((source) => 'deviceId' in source && source.deviceId === deviceId);
</script>

<Modal bind:open size="lg" title={words.addSource}>
	<div class="grid gap-4 text-gray-900 dark:text-paper">
		<section>
			<h3 class="mb-2 font-semibold">{words.camerasMicrophonesMachine}</h3>
			{#if problem}<Warning urgent>{problem}</Warning>{/if}
			<ul class="grid gap-2">
				{#each offers as offer (offer.origin.kind + offer.origin.deviceId)}
					<li class="flex items-center gap-3 rounded-sm border border-slate-rule p-2">
						{#if open && previews && !used(offer.origin.deviceId)}<DevicePreview {offer} onopening={noteOpening} />{/if}
						<span class="min-w-0 flex-1">
							<span class="block truncate font-semibold">{names.get(offer.origin.deviceId)}</span>
							<span class="text-sm text-gray-500 dark:text-gray-300">
								{shownKindOf(offer.origin).name}{used(offer.origin.deviceId) ? words.inUseHere : ''}
							</span>
						</span>
						{#if offer.sizes.length > 0}
							<Select
								class="w-60"
								size="sm"
								placeholder=""
								items={sizeItems(offer)}
								bind:value={() => sizes[offer.origin.deviceId] ?? '', (value) => (sizes[offer.origin.deviceId] = value)}
								aria-label={words.pictureSize(offer.origin.label)}
							/>
						{/if}
						{#if offer.origin.kind === 'camera'}
							<Checkbox
								bind:checked={
									() => sounds[offer.origin.deviceId] ?? false, (wanted) => (sounds[offer.origin.deviceId] = wanted)
								}>{words.withItsSound}</Checkbox
							>
						{/if}
						<Button onclick={() => void addDevice(offer)}>{words.add}</Button>
					</li>
				{:else}
					<li class="rounded-sm border-2 border-dashed border-gray-500 p-3">
						{isListing ? words.lookingDevices : words.noneFoundPlugOneIn}
					</li>
				{/each}
			</ul>
		</section>
		<section class="grid gap-2">
			<h3 class="font-semibold">{networkWords.heading}</h3>
			<div class="flex flex-wrap items-center gap-2">
				<Button onclick={addNetwork}>{networkWords.add}</Button>
				<span class="flex-1 text-sm">{networkWords.addHint}</span>
			</div>
		</section>
		<section class="grid gap-2">
			<h3 class="font-semibold">{guestWords.phoneAsCamera}</h3>
			{#if phone}
				<div class="flex flex-wrap items-start gap-3" role="status">
					<img src={phone.code} alt={guestWords.phoneCode(phone.name)} width="220" height="220" class="bg-white" />
					<div class="grid min-w-56 flex-1 gap-2">
						<p>{guestWords.phoneScan(phone.name)}</p>
						<Input size="sm" readonly value={phone.address} aria-label={guestWords.address} data-link />
					</div>
				</div>
			{:else}
				<div class="flex flex-wrap items-center gap-2">
					<Button onclick={() => void callPhone()}>{guestWords.addPhone}</Button>
					<span class="flex-1 text-sm">{guestWords.addPhoneHint}</span>
				</div>
			{/if}
		</section>
		<section class="grid gap-2">
			<h3 class="font-semibold">{words.screensStillsWhatBivvoDraws}</h3>
			{#if problemHere}<Warning urgent>{problemHere}</Warning>{/if}
			<div class="flex flex-wrap items-center gap-2">
				<Button onclick={addShare}>{words.shareScreenOrWindow}</Button>
				<Checkbox bind:checked={startPatched}>{words.startUnreadableUntilYouUncover}</Checkbox>
			</div>
			<div class="flex flex-wrap items-center gap-2">
				<FileButton
					label={keeping ? words.uploading(keeping) : words.addStill}
					accept="image/png,image/jpeg,image/webp,image/svg+xml,video/webm"
					onchoose={(files) => void addFiles(files)}
				/>
				<Button onclick={addCard}>{words.card}</Button>
				<Button onclick={addClock}>{words.clock}</Button>
				<Button onclick={addColour}>{words.colour}</Button>
			</div>
		</section>
		{#if open}<MediaPicker onadd={addMedia} />{/if}
		<section>
			<h3 class="mb-2 font-semibold">{words.standInsTryingThingsOut}</h3>
			<div class="flex flex-wrap gap-2">
				{#each standIns ?? [] as { standIn, name, kind } (standIn)}
					<Button onclick={() => add(name, { kind, standIn })}>{name}</Button>
				{/each}
				{#each guests as { id, name } (id)}
					<Button onclick={() => void callStandIn(id, name)}>{guestWords.addStandIn(name)}</Button>
				{/each}
			</div>
		</section>
	</div>
</Modal>
