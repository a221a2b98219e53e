/** The control surfaces of this machine at work on an event: presses and faders in, lights and motors out. */
import { commandOf, SHOW_ACTIONS } from '../../core/show/actions/actions.ts';
import type { Order } from '../../core/show/actions/order.ts';
import { isSameControl, type Control } from '../../core/surface/midi.ts';
import { emptyProfile, type Assignment, type SurfaceProfile } from '../../core/surface/profile.ts';
import { Surface } from '../../core/surface/surface.ts';
import { newId } from '../show/new-id.ts';
import type { ShowSession } from '../show/show-session.svelte.ts';
import { openPorts, standInPort, type Port } from './ports.ts';

/** Lights and motors are brought to how things stand so often, milliseconds; a change of the show does it at once. */
const FEEDBACK_MS = 500;

interface Connected {
	port: Port;
	surface: Surface;
	profile: SurfaceProfile;
	/** Of the lock by which one page of this machine alone uses it. */
	release: () => void;
}

export class Surfaces {
	readonly #session: ShowSession;
	readonly #from: string;
	#connected: Connected[] = [];
	#endPorts: (() => void) | null = null;
	#timer: ReturnType<typeof setInterval> | undefined;
	#isClosed = false;

	/** Names of those that this page uses. */
	names = $state.raw<string[]>([]);
	/** The control that was touched last and does nothing yet, while somebody learns it. */
	touched = $state.raw<{ name: string; control: Control } | null>(null);
	/** Which way a fader has to go to take hold. */
	waits = $state.raw<{ name: string; way: 'up' | 'down' } | null>(null);
	/** True when the browser has refused. */
	refused = $state(false);

	/** @param from as this page calls itself */
	constructor(session: ShowSession, from: string) {
		this.#session = session;
		this.#from = from;
		this.#use([standInPort(session.eventId)]);
		this.#timer = setInterval(() => this.show(), FEEDBACK_MS);
	}

	/** Opens what is connected to this machine. The browser asks the person the first time. */
	async connect(): Promise<void> {
		this.refused = false;
		try {
			this.#endPorts ??= await openPorts((ports) => this.#use([standInPort(this.#session.eventId), ...ports]));
			if (this.#isClosed) this.#endPorts();
		} catch {
			this.refused = true;
		}
	}

	#use(ports: readonly Port[]): void {
		for (const { port, release } of this.#connected) {
			release();
			port.close();
		}
		this.#connected = [];
		this.names = [];
		for (const port of ports) void this.#useAlone(port);
	}

	/** Two pages that use one surface would do everything twice. */
	async #useAlone(port: Port): Promise<void> {
		const { promise, release } = untilReleased();
		const options = { ifAvailable: true };
		await navigator.locks.request(`bivvo-surface-${this.#session.eventId}-${port.name}`, options, async (lock) => {
			if (!lock || this.#isClosed) return port.close();
			const profile = this.profileOf(port.name);
			const connected: Connected = { port, profile, surface: new Surface(profile), release };
			port.onMessage = (bytes) => this.#receive(connected, bytes);
			this.#connected = [...this.#connected, connected];
			this.names = this.#connected.map((each) => each.port.name);
			this.show();
			await promise;
		});
	}

	/** What the controls of a surface do, as the event has it. */
	profileOf(name: string): SurfaceProfile {
		return this.#session.show.state?.setup.surfaces.find((each) => each.name === name) ?? emptyProfile(name);
	}

	#receive(connected: Connected, bytes: Uint8Array): void {
		const show = this.#session.show.state;
		if (!show) return;
		this.#renew(connected);
		const { name } = connected.port;
		const touch = connected.surface.receive(bytes, show, this.#session.show.now);
		if (!touch) return;
		if (touch.is === 'unknown') this.touched = { name, control: touch.control };
		else if (touch.is === 'waits') this.waits = touch.way && { name, way: touch.way };
		else if (touch.is === 'moved') {
			this.waits = null;
			this.#session.do(touch.command);
		} else this.#press(touch.order, touch.is === 'press');
	}

	#press(order: Order, isDown: boolean): void {
		const show = this.#session.show.state;
		if (!show) return;
		const press = { at: this.#session.show.now, from: this.#from, newId: newId() };
		const command = isDown ? commandOf(show, order, press) : SHOW_ACTIONS[order.action].release?.(show, order);
		if (command) this.#session.do(command);
	}

	/** A profile that was changed begins anew: what faders had hold of, they fetch again. */
	#renew(connected: Connected): void {
		const profile = this.profileOf(connected.port.name);
		if (profile.assignments === connected.profile.assignments) return;
		connected.profile = profile;
		connected.surface = new Surface(profile);
	}

	/** Brings lights and motors to how things stand. */
	show(): void {
		const show = this.#session.show.state;
		if (!show) return;
		for (const connected of this.#connected) {
			this.#renew(connected);
			for (const message of connected.surface.feedback(show, this.#session.show.now)) connected.port.send(message);
		}
	}

	/** Gives a control something to do; nothing when that is null. */
	assign(name: string, control: Control, does: Assignment['does'] | null, motor = false): void {
		const profile = this.profileOf(name);
		const others = profile.assignments.filter((each) => !isSameControl(each.control, control));
		const assignments = does === null ? others : [...others, { control, does, motor }];
		this.touched = null;
		this.#session.do({ type: 'putSurface', profile: { ...profile, assignments } });
	}

	close(): void {
		this.#isClosed = true;
		clearInterval(this.#timer);
		this.#use([]);
		this.#endPorts?.();
	}
}

function untilReleased(): { promise: Promise<void>; release: () => void } {
	let release = () => {};
	const promise = new Promise<void>((resolve) => (release = resolve));
	return { promise, release };
}
