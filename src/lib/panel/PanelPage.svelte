<script lang="ts">
	/** A panel in somebody's hand: pages of buttons, and what the crew says. */
	import { Modal } from 'flowbite-svelte';
	import { onMount, untrack } from 'svelte';
	import { forbiddenOrder } from '../../core/access/orders.ts';
	import { commandOf, SHOW_ACTIONS, subjectOf } from '../../core/show/actions/actions.ts';
	import type { Order } from '../../core/show/actions/order.ts';
	import { macroOf } from '../../core/show/macros/runs.ts';
	import { OWN_PANEL, ownPanel } from '../../core/show/panels/own-panel.ts';
	import type { PanelButton as ButtonPlan } from '../../core/show/panels/panel.ts';
	import CrewInbox from '../crew/CrewInbox.svelte';
	import CrewSay from '../crew/CrewSay.svelte';
	import HearDesk from '../crew/HearDesk.svelte';
	import { provideSession } from '../show/context.ts';
	import { newId } from '../show/new-id.ts';
	import Notices from '../show/Notices.svelte';
	import Opening from '../show/Opening.svelte';
	import { ShowSession } from '../show/show-session.svelte.ts';
	import { viewsOf } from '../show/watched-views.ts';
	import { stayAwake } from '../ui/awake.ts';
	import Button from '../ui/Button.svelte';
	import { beDark } from '../ui/dark.ts';
	import { orderLabel, panels as words } from '../words/index.ts';
	import type { Gestures } from './gestures.ts';
	import PanelButton from './PanelButton.svelte';
	import RunningMacros from './RunningMacros.svelte';
	import { page } from '$app/state';

	interface Props {
		eventId: string;
		panelId: string;
	}
	let { eventId, panelId }: Props = $props();

	const session = provideSession(new ShowSession(untrack(() => eventId)));
	const views = viewsOf(untrack(() => eventId));
	onMount(beDark);
	onMount(stayAwake);
	onMount(() => () => session.close());
	const show = $derived(session.show.state);
	const panel = $derived(
		show &&
			(panelId === OWN_PANEL
				? ownPanel(show.setup, words.ownPages)
				: (show.setup.panels.find(({ id }) => id === panelId) ?? null)),
	);
	/** The page that is open: a panel that gets another order keeps it by its name. */
	let open = $state('');
	let crewOpen = $state(false);
	const shown = $derived(panel?.pages.find(({ name }) => name === open) ?? panel?.pages[0] ?? null);

	const role = $derived(page.data.role ?? null);
	const mayPress = (order: Order) => show !== null && role !== null && forbiddenOrder(role, show.setup, order) === null;
	const isMine = ({ press, hold, double }: ButtonPlan) =>
		[press, hold, double].every((order) => !order || mayPress(order));

	/** What is asked once more before it is done. */
	let asked = $state.raw<Order | null>(null);
	const asks = ({ action, of }: Order) =>
		action === 'macro' && show !== null && macroOf(show.setup, of!)?.asks === true;

	/** The button whose press could not be done, for a moment. */
	let refused = $state<string | null>(null);
	const REFUSED_MS = 2000;
	function refuse(buttonId: string) {
		refused = buttonId;
		setTimeout(() => (refused = refused === buttonId ? null : refused), REFUSED_MS);
	}

	function run(order: Order, buttonId = '', isSure = false) {
		if (!show || !session.show.connected) return;
		if (!isSure && asks(order) && !show.live.macros.some(({ macroId }) => macroId === order.of)) {
			asked = order;
			return;
		}
		const press = { at: session.show.now, from: panel?.name ?? words.me, newId: newId() };
		const command = commandOf(show, order, press);
		if (!command) return;
		if (!session.do(command)) refuse(buttonId);
		else if (panel?.vibrates) navigator.vibrate?.(25);
	}
	function letGo(order: Order) {
		const command = show && SHOW_ACTIONS[order.action].release?.(show, order);
		if (command) session.do(command);
	}
	/** Null while nothing reaches the server: nobody shall think that a press was done. */
	function actsOf({ id, press, hold, double }: ButtonPlan): Gestures | null {
		if (!session.show.connected) return null;
		return {
			...(press && { press: () => run(press, id), release: () => letGo(press) }),
			...(hold && { hold: () => run(hold, id) }),
			...(double && { double: () => run(double, id) }),
		};
	}
</script>

{#if !show}
	<Opening what={words.page} gone={session.show.gone} />
{:else if !panel || !shown}
	<main class="grid min-h-dvh place-content-center bg-ink p-4 text-paper"><p role="alert">{words.gone}</p></main>
{:else}
	<div class="grid h-dvh grid-rows-[auto_minmax(0,1fr)_auto] bg-ink text-paper">
		<header class="grid gap-1 px-2 pt-2">
			{#if !session.show.connected}
				<p class="border-l-4 border-lamp px-3 py-1 font-semibold" role="alert">{words.lost}</p>
			{/if}
			<CrewInbox place={{ page: 'panel', sourceId: null }} reader={panel.name} />
			<RunningMacros />
		</header>
		<main class="grid min-h-0 grid-cols-1 content-end overflow-y-auto p-2 md:content-start">
			{#if crewOpen}
				<div class="grid gap-3">
					<HearDesk />
					<CrewSay from={panel.name} />
				</div>
			{:else}
				<div
					class="grid auto-rows-[minmax(4.5rem,auto)] gap-2 md:auto-rows-[minmax(6rem,auto)]"
					style:grid-template-columns={panelId === OWN_PANEL
						? 'repeat(auto-fill, minmax(clamp(6.5rem, 15vw, 13rem), 1fr))'
						: `repeat(${panel.columns}, minmax(0, 1fr))`}
				>
					{#each shown.buttons as button (button.id)}
						<PanelButton
							{button}
							{views}
							acts={actsOf(button)}
							isMine={isMine(button)}
							isRefused={refused === button.id}
						/>
					{/each}
				</div>
			{/if}
		</main>
		<nav class="flex flex-wrap gap-1 border-t border-slate-rule bg-slate-panel p-2" aria-label={words.pages}>
			{#each panel.pages as { name }, at (at)}
				<Button
					size="touch"
					lit="edge"
					class="shrink-0"
					aria-pressed={!crewOpen && name === shown.name}
					onclick={() => {
						open = name;
						crewOpen = false;
					}}>{name}</Button
				>
			{/each}
			<Button size="touch" lit="edge" class="ml-auto shrink-0" aria-pressed={crewOpen} onclick={() => (crewOpen = true)}
				>{words.crew}</Button
			>
		</nav>
	</div>
	<Notices class="inset-x-2 bottom-32" />
	<!-- It opens under the finger that is still down: what answers acts when it is pressed, and letting go beside it closes nothing. -->
	<Modal
		open={asked !== null}
		outsideclose={false}
		title={asked ? words.sure(orderLabel(asked, subjectOf(show, asked))) : ''}
		onclose={() => (asked = null)}
		size="xs"
	>
		<div class="flex gap-2">
			<Button
				look="main"
				size="touch"
				class="flex-1"
				onpress={() => {
					if (asked) run(asked, '', true);
					asked = null;
				}}>{words.yes}</Button
			>
			<Button size="touch" class="flex-1" onpress={() => (asked = null)}>{words.no}</Button>
		</div>
	</Modal>
{/if}
