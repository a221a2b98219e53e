/** Opens the wall in a window of its own. The desk's page makes its pictures, so it lives as long as the desk does. */
import { mount, unmount } from 'svelte';
import { scenes as words } from '../../words/index.ts';
import type { DeskSession } from '../desk-session.svelte.ts';
import WallWindow from './WallWindow.svelte';

/**
 * Keys pressed in it do what they do on the desk.
 * @returns a function that closes the window again
 * @throws with a sentence when the browser holds the window back
 */
export function openWallWindow(session: DeskSession): () => void {
	const opened = window.open('', 'bivvo-wall', 'popup,width=1280,height=760');
	if (!opened) throw new Error(words.windowBlocked);
	const { document: page } = opened;
	page.title = words.wallTitle;
	page.documentElement.lang = 'en';
	page.documentElement.classList.add('dark');
	page.head.replaceChildren(page.head.querySelector('title')!);
	for (const style of document.querySelectorAll<HTMLElement>('style, link[rel=stylesheet]')) {
		const copy = style.cloneNode(true) as HTMLElement;
		if (style instanceof HTMLLinkElement) (copy as HTMLLinkElement).href = style.href;
		page.head.append(copy);
	}
	page.body.replaceChildren();
	const onfill = () => void page.documentElement.requestFullscreen().catch(() => {});
	const wall = mount(WallWindow, { target: page.body, props: { session, onfill } });
	opened.addEventListener('keydown', (event) => {
		const { key, code, shiftKey, ctrlKey, altKey, metaKey, repeat } = event;
		const same = { key, code, shiftKey, ctrlKey, altKey, metaKey, repeat, cancelable: true };
		// The focus may be on a tile: Enter there is a press of it.
		if (key !== 'Enter' && !window.dispatchEvent(new KeyboardEvent('keydown', same))) event.preventDefault();
	});
	opened.addEventListener('pagehide', () => void unmount(wall), { once: true });
	return () => opened.close();
}
