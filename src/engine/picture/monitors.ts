/** The desk's monitors: small pictures of the buses and scenes, made in WASM and put on canvases. */
import type { Compositor } from '../../core/picture/compositor.ts';
import { fitted, type Size } from '../../core/picture/geometry.ts';
import type { DrawList } from '../../core/picture/draw-list.ts';
import type { Planes } from '../../core/picture/planes.ts';
import type { MonitorSubject } from '../messages.ts';
import { MadeOf } from './made-of.ts';
import type { Relief } from './relief.ts';

/** Half of a frame at 30 a second: so much too early is on time. */
const HALF_FRAME_MS = 17;

/** Monitors besides the program's that are drawn with one frame. */
const MOST_AT_ONCE = 3;

export interface Monitor {
	canvas: OffscreenCanvas;
	context: OffscreenCanvasRenderingContext2D;
	subject: MonitorSubject;
	/** What it is to be drawn at. The canvas takes it with the next picture, since a new size clears it. */
	size: Size;
	dueAt: number;
	/** Somebody can see it. */
	seen: boolean;
	/** What is on it: the picture, and what that was made of; null for nothing. */
	shown: { planes: Planes; version: number } | null;
	madeOf: MadeOf;
}

export class Monitors {
	#monitors = new Map<string, Monitor>();
	readonly #relief: Pick<Relief, 'programHz' | 'otherHz'>;

	/** @param relief how often they are refreshed: the program's is the one people watch for smoothness */
	constructor(relief: Pick<Relief, 'programHz' | 'otherHz'>) {
		this.#relief = relief;
	}

	add(id: string, canvas: OffscreenCanvas, subject: MonitorSubject): void {
		const context = canvas.getContext('2d', { alpha: false, desynchronized: true });
		if (context)
			this.#monitors.set(id, {
				...{ canvas, context, subject, size: evenSize(canvas), dueAt: 0 },
				...{ seen: true, shown: null, madeOf: new MadeOf() },
			});
	}

	resize(id: string, size: Size): void {
		const monitor = this.#monitors.get(id);
		if (monitor) monitor.size = evenSize(size);
	}

	see(id: string, seen: boolean): void {
		const monitor = this.#monitors.get(id);
		if (monitor) monitor.seen = seen;
	}

	point(id: string, subject: MonitorSubject): void {
		const monitor = this.#monitors.get(id);
		if (monitor) monitor.subject = subject;
	}

	remove(id: string): void {
		this.#monitors.delete(id);
	}

	/**
	 * The monitors whose turn it is: the program's, and of all others those that have waited longest. The browser puts the
	 * whole page together anew for each frame with which something on it changes, so they change together, and a few at a
	 * time, so that no frame of the program has to wait for all of them.
	 */
	due(now: number): { program: Monitor | null; others: Monitor[] } {
		const due = [...this.#monitors.values()].filter(({ dueAt, seen }) => seen && dueAt <= now);
		const program = due.find(({ subject }) => isProgram(subject)) ?? null;
		const others = due.filter((monitor) => monitor !== program).sort((a, b) => a.dueAt - b.dueAt);
		return { program, others: others.slice(0, MOST_AT_ONCE) };
	}

	/** True when a monitor shows what it would show, and has had its turn. */
	shows(monitor: Monitor, list: DrawList, pictures: readonly Planes[], now: number): boolean {
		const isOn = monitor.madeOf.isSame(list, pictures) && monitor.shown !== null && isFilled(monitor);
		if (isOn) this.#takeTurn(monitor, now);
		return isOn;
	}

	/** A slot's worth later, without running after turns that were missed; half a frame early is on time. */
	#takeTurn(monitor: Monitor, now: number): void {
		const { programHz, otherHz } = this.#relief;
		const hz = isProgram(monitor.subject) ? programHz : otherHz;
		monitor.dueAt = Math.max(monitor.dueAt + 1000 / hz, now + 1000 / hz - HALF_FRAME_MS);
	}

	/**
	 * Puts a picture on a monitor, unless it is there.
	 * @param planes of any size; those of the monitor's own size are not scaled
	 */
	draw(monitor: Monitor, planes: Planes, compositor: Compositor, now: number): void {
		const { canvas, context, size, shown } = monitor;
		this.#takeTurn(monitor, now);
		if (shown?.planes === planes && shown.version === planes.version && isFilled(monitor)) return;
		monitor.shown = { planes, version: planes.version };
		const same = planes.width === size.width && planes.height === size.height;
		const small = same ? planes : compositor.smaller(size).fit(planes, fitted(planes, size));
		if (!isFilled(monitor)) Object.assign(canvas, size);
		context.putImageData(new ImageData(compositor.toRgba(small), size.width, size.height), 0, 0);
	}
}

function isProgram(subject: MonitorSubject): boolean {
	return 'bus' in subject && subject.bus === 'program';
}

/** True unless it has got another size, which clears it. */
function isFilled({ canvas, size }: Monitor): boolean {
	return canvas.width === size.width && canvas.height === size.height;
}

/** A size as the kernels want it: even, and eight pixels wide at least. */
function evenSize({ width, height }: Size): Size {
	return { width: Math.max(8, width & ~1), height: Math.max(2, height & ~1) };
}
