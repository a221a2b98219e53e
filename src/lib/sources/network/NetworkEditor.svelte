<script lang="ts">
	/** What is typed into a camera of the network: where it sends to, and its key, which is shown only when somebody asks. */
	import QrCode from 'qrcode';
	import type { CameraTold } from '../../../core/ingest/place.ts';
	import type { SourceOf } from '../../../core/show/sources/source.ts';
	import { askServer } from '../../ui/ask.ts';
	import Button from '../../ui/Button.svelte';
	import ChoiceField from '../../ui/ChoiceField.svelte';
	import type { Choice } from '../../ui/choices.ts';
	import CopyField from '../../ui/CopyField.svelte';
	import Warning from '../../ui/Warning.svelte';
	import { network as words } from '../../words/index.ts';
	import type { EditorProps } from '../kind.ts';

	let { source, show, onchange }: EditorProps<SourceOf<'network'>> = $props();

	const AGAIN_MS = 1000;
	/** What cameras commonly offer; a size of its own kept as it is. */
	const SIZES = ['3840x2160', '1920x1080', '1280x720'] as const;
	const sizeOf = (text: string) => {
		const [width, height] = text.split('x').map(Number);
		return width && height ? { width, height } : null;
	};
	const could = $derived(source.could ? `${source.could.width}x${source.could.height}` : '');
	const sizes = $derived<Choice<string>[]>([
		['', words.notKnown],
		...[...new Set([...SIZES, ...(could === '' ? [] : [could])])].map((size): Choice<string> => [
			size,
			size.replace('x', ' × '),
		]),
	]);

	type By = 'rtmp' | 'whip';
	const WAYS: Choice<By>[] = [
		['rtmp', words.byRtmp],
		['whip', words.byWhip],
	];
	let by = $state<By>('rtmp');
	let told = $state.raw<CameraTold | null>(null);
	let secret = $state.raw<{ key: string; code: string } | null>(null);
	let problem = $state('');
	let asks = $state(false);
	let standsIn = $state(false);
	const base = $derived(`/api/events/${show.eventId}/cameras/${source.cameraId}`);

	$effect(() => {
		const address = base;
		secret = null;
		let timer: ReturnType<typeof setTimeout> | undefined;
		// One that was just added the server is about to hear of.
		const load = async () => {
			const response = await fetch(address).catch(() => null);
			problem = response ? '' : words.notToldWhere;
			if (response?.ok) {
				told = (await response.json()) as CameraTold;
				standsIn ||= told.canStandIn && told.arrives;
			} else timer = setTimeout(() => void load(), AGAIN_MS);
		};
		void load();
		return () => clearTimeout(timer);
	});

	async function ask(order: 'show' | 'renew') {
		asks = false;
		const result = await askServer<{ key: string }>(base, 'POST', { key: order });
		problem = 'problem' in result ? result.problem : '';
		if (!('answer' in result)) return;
		const { key } = result.answer;
		const code = await QrCode.toDataURL(`${told?.rtmp ?? ''}/${key}`, { margin: 2, width: 200 });
		secret = { key, code };
	}

	async function standIn(sends: boolean) {
		const result = await askServer(`${base}/stand-in`, sends ? 'POST' : 'DELETE', {});
		problem = 'problem' in result ? result.problem : '';
		if (problem === '') standsIn = sends;
	}
</script>

<section class="grid grid-cols-1 gap-2" aria-labelledby="network-camera">
	<h3 id="network-camera" class="font-semibold">{words.typeIntoCamera}</h3>
	{#if problem}<Warning urgent>{problem}</Warning>{/if}
	{#if told}
		{#if told.reaches === 'machine'}<Warning class="text-sm">{words.onlyThisMachine}</Warning>{/if}
		<ChoiceField label={words.howItSends} value={by} choices={WAYS} onchange={(way) => (by = way)} />
		{#if by === 'whip'}
			<CopyField label={words.endpoint} value={told.whip} />
		{:else if told.rtmp}
			<CopyField label={words.address} value={told.rtmp} />
			{#if told.rtmps}<CopyField label={words.addressEncrypted} value={told.rtmps} />{/if}
		{:else}
			<Warning>{words.portTaken}</Warning>
		{/if}
		{#if secret}
			<CopyField label={by === 'whip' ? words.bearerToken : words.streamKey} value={secret.key} />
			{#if by === 'rtmp' && told.rtmp}
				<div class="flex items-start gap-2 text-sm">
					<img src={secret.code} alt={words.codeIs} width="120" height="120" class="bg-white" />
					<p>{words.scanCode}</p>
				</div>
			{/if}
			<div class="flex flex-wrap gap-1">
				<Button size="xs" onclick={() => (secret = null)}>{words.hideKey}</Button>
				<Button size="xs" onclick={() => (asks = true)}>{words.otherKey}</Button>
			</div>
			{#if asks}
				<div class="grid gap-1 text-sm" role="alert">
					<p>{words.otherKeyMeans}</p>
					<div class="flex gap-1">
						<Button size="xs" onclick={() => void ask('renew')}>{words.otherKeySure}</Button>
						<Button size="xs" onclick={() => (asks = false)}>{words.cancel}</Button>
					</div>
				</div>
			{/if}
		{:else}
			<Button size="sm" onclick={() => void ask('show')}>{words.showKey}</Button>
			<p class="text-xs text-gray-300">{words.keyIs}</p>
		{/if}
		{#if told.canStandIn}
			<div class="grid gap-1 text-sm">
				{#if standsIn}
					<Button size="xs" onclick={() => void standIn(false)}>{words.standInStop}</Button>
				{:else}
					<Button size="xs" onclick={() => void standIn(true)}>{words.standInSend}</Button>
				{/if}
				<p class="text-xs text-gray-300">{words.standInIs}</p>
			</div>
		{/if}
	{:else}
		<p>{words.asking}</p>
	{/if}
	<div class="grid gap-1">
		<span class="text-sm">{words.couldSend}</span>
		<ChoiceField
			label={words.couldSend}
			value={could}
			choices={sizes}
			onchange={(size) => onchange({ ...source, could: sizeOf(size) })}
		/>
	</div>
</section>
