/** Guests of the demo event, each in a browser of their own. */
import { expect, type Browser, type BrowserContext, type BrowserContextOptions, type Page } from '@playwright/test';
import type { Demo } from './demo.ts';
import { lumaOn } from './see.ts';

const DAY_MS = 86_400_000;

/** A link of a guest's, as the desk makes it. */
export async function guestLink(
	demo: Demo,
	name: string,
	order: object = {},
): Promise<{ id: string; address: string }> {
	const response = await fetch(`${demo.url}/api/events/lantern-night/links`, {
		method: 'POST',
		headers: { 'Content-Type': 'application/json', Origin: demo.url },
		body: JSON.stringify({ name, role: 'guest', expiresAt: Date.now() + DAY_MS, uses: 5, ...order }),
	});
	const { id, secret } = (await response.json()) as { id: string; secret: string };
	return { id, address: `${demo.url}/link#${secret}` };
}

/** Opens a link as its guest does, up to the door; they are one of the stand-ins, or have the browser's fake devices. */
export async function comeAsGuest(
	browser: Browser,
	address: string,
	standIn: `${'cold-tarn' | 'three-larches'}${'' | '-720'}` | null,
	options: BrowserContextOptions = {},
	prepare: (context: BrowserContext) => Promise<void> = () => Promise.resolve(),
	getReady: (page: Page) => Promise<void> = () => Promise.resolve(),
): Promise<Page> {
	const context = await browser.newContext(options);
	await prepare(context);
	const page = await context.newPage();
	await page.goto(standIn ? address.replace('#', `?standIn=${standIn}#`) : address);
	await page.getByRole('button', { name: 'Get ready' }).click();
	await getReady(page);
	await page.getByRole('button', { name: 'Ask to be let in' }).click();
	await expect(place(page)).toHaveText(/Waiting to be let in/);
	return page;
}

/** For a guest who does not look at the program, which costs desk and guest a good part of a busy machine. */
export async function looksAway(context: BrowserContext): Promise<void> {
	const kept = { name: '', camera: null, microphone: null, outputId: '', looksAt: 'self', volume: 1 };
	await context.addInitScript((text) => localStorage.setItem('bivvo-guest', text), JSON.stringify(kept));
}

/** The large line that says what is true for a guest. */
export function place(guest: Page) {
	return guest.locator('[data-situation]');
}

/** What a guest sees of the program now: its luma at 64 × 36. */
export function watchedBy(guest: Page): Promise<Uint8Array> {
	return lumaOn(guest.getByRole('img', { name: 'The program' }));
}

/** What a guest hears for some seconds: one side at 48 kHz. */
export function heardBy(guest: Page, seconds: number): Promise<Float32Array> {
	return heardOn(guest, `document.querySelector('audio').srcObject.getAudioTracks()[0]`, seconds);
}

/**
 * A sound within a page for some seconds: one side at 48 kHz.
 * @param track an expression of the page's own
 */
export async function heardOn(page: Page, track: string, seconds: number): Promise<Float32Array> {
	const base64 = await page.evaluate<string>(`(async () => {
		const track = ${track};
		const reader = new MediaStreamTrackProcessor({ track: track.clone(), maxBufferSize: 2000 }).readable.getReader();
		const samples = new Float32Array(48000 * ${seconds});
		for (let filled = 0; filled < samples.length; ) {
			const { value } = await reader.read();
			const piece = new Float32Array(value.numberOfFrames);
			value.copyTo(piece, { planeIndex: 0, format: 'f32-planar' });
			value.close();
			samples.set(piece.subarray(0, samples.length - filled), filled);
			filled += piece.length;
		}
		await reader.cancel();
		const bytes = new Uint8Array(samples.buffer);
		let text = '';
		for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
		return btoa(text);
	})()`);
	const bytes = Buffer.from(base64, 'base64');
	return new Float32Array(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength));
}
