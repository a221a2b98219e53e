/** Brings a watch page to life: how long it is still, the picture with its delay, words, messages, and the recording. */
import type Hls from 'hls.js';
import type { WatchTold } from '../../core/watch-page/watched.ts';
import { watch as words } from '../words/en/watch.ts';

const ASK_MS = 4000;
/** Viewers do not ask all at the same moment. */
const SCATTER_MS = 1000;
const WORDS_MS = 1500;
const SECOND_MS = 1000;
const [MINUTE_S, HOUR_S, DAY_S] = [60, 3600, 86_400];

const main = document.querySelector<HTMLElement>('[data-watch]')!;
const part = <E extends HTMLElement>(name: string) => main.querySelector<E>(`[data-${name}]`);
const base = `/watch/${main.dataset.watch}`;
const viewer = Math.random().toString(36).slice(2, 14).padEnd(6, '0');
const video = part<HTMLVideoElement>('video')!;

let told = JSON.parse(main.dataset.told!) as WatchTold;
/** The server's clock less this machine's. */
let ahead = told.now - Date.now();
let player: Hls | null = null;
/** What plays now: the address of the stream or of the recording. */
let playing: string | null = null;
let isLost = false;
let showsWords = false;
let trail: { at: number; lines: string[] }[] = [];

const show = (element: HTMLElement | null, isShown: boolean, as = 'block') => {
	if (element) element.style.display = isShown ? as : 'none';
};
const say = (name: string, text: string) => {
	for (const element of main.querySelectorAll(`[data-${name}]`))
		if (element.textContent !== text) element.textContent = text;
};

function timeLeft(ms: number): string {
	const all = Math.max(0, Math.ceil(ms / 1000));
	const [days, hours, minutes] = [
		Math.floor(all / DAY_S),
		Math.floor((all % DAY_S) / HOUR_S),
		Math.floor((all % HOUR_S) / MINUTE_S),
	];
	if (days > 0) return `${words.days(days)} ${words.hours(hours)}`;
	if (hours > 0) return `${words.hours(hours)} ${words.minutes(minutes)}`;
	return `${words.minutes(minutes)} ${words.seconds(all % MINUTE_S)}`;
}

/** In the viewer's own zone and language. */
function when(startsAt: number): string {
	const day = { weekday: 'long', day: 'numeric', month: 'long' } as const;
	return new Intl.DateTimeFormat(undefined, {
		...day,
		hour: '2-digit',
		minute: '2-digit',
		timeZoneName: 'short',
	}).format(startsAt);
}

function render(): void {
	const { phase, title, description, startsAt, stream, recording, delayS } = told;
	main.dataset.phase = phase;
	say('title', title);
	say('description', description);
	const plays = playing !== null;
	video.hidden = !plays;
	show(part('card'), !plays, 'grid');
	const leftMs = startsAt === null ? null : startsAt - Date.now() - ahead;
	if (phase === 'before') {
		say('when', startsAt === null ? words.noTime : `${words.comes} ${when(startsAt)}`);
		say('left', leftMs === null ? '' : leftMs > 0 ? words.inTime(timeLeft(leftMs)) : words.soon);
	} else {
		say('when', phase === 'live' ? words.waits : recording ? '' : words.over);
		say('left', '');
	}
	const live = stream && plays ? `${words.live}, ${words.behind(Math.round(delayS + 1))}` : '';
	const status = { before: '', live, after: recording ? words.overRecording : words.over }[phase];
	say('status', isLost ? words.lost : status);
	// Browsers begin to play without sound; nobody shall wait for what is muted.
	show(part('sound-button'), plays && video.muted, 'inline-flex');
	show(part('captions-button'), phase === 'live' && told.captions, 'inline-flex');
	const messages = part('messages');
	show(messages, told.messages !== null && (phase === 'live' || told.messages.length > 0), 'grid');
	show(part('write'), phase === 'live', 'grid');
	renderMessages();
}

let newest = -1;
function renderMessages(): void {
	const list = part('list');
	if (!list || !told.messages) return;
	const last = told.messages.at(-1)?.id ?? 0;
	const key = told.messages.length * 1e6 + last;
	if (key === newest) return;
	newest = key;
	list.replaceChildren(
		...told.messages.map(({ from, text }) => {
			const item = document.createElement('li');
			const name = document.createElement('strong');
			name.textContent = `${from === '' ? words.organisation : from}: `;
			item.append(name, text);
			return item;
		}),
	);
	list.scrollTop = list.scrollHeight;
}

/** Plays what there is: the stream, else the recording, else nothing. */
async function play(): Promise<void> {
	const wanted = told.stream ?? told.recording;
	if (wanted === playing) return;
	player?.destroy();
	player = null;
	playing = wanted;
	if (wanted === null) {
		video.removeAttribute('src');
		video.load();
		return;
	}
	if (told.stream === null) {
		video.src = wanted;
		return;
	}
	const { default: Player, Events } = await import('hls.js/light');
	if (playing !== wanted) return;
	if (!Player.isSupported()) {
		// Some browsers play it by themselves.
		video.src = wanted;
		return void video.play().catch(() => {});
	}
	const made = (player = new Player({ liveSyncDurationCount: 3, enableWorker: false }));
	made.on(Events.ERROR, (_, { fatal }) => {
		if (!fatal || player !== made) return;
		made.destroy();
		player = playing = null;
	});
	made.loadSource(wanted);
	made.attachMedia(video);
	video.play().catch(() => {});
}

async function ask(): Promise<void> {
	const response = await fetch(`${base}/now.json?viewer=${viewer}`).catch(() => null);
	isLost = !response?.ok;
	if (response?.ok) {
		told = (await response.json()) as WatchTold;
		ahead = told.now - Date.now();
	} else if (response?.status === 403) return location.reload();
	await play();
	render();
	setTimeout(() => void ask(), ASK_MS + SCATTER_MS * Math.random());
}

/** Words that stood when what is seen now was sent. */
function renderWords(): void {
	const seenAt = (player?.playingDate?.getTime() ?? NaN) || Date.now() + ahead - 1000 * told.delayS;
	const lines = trail.findLast(({ at }) => at <= seenAt)?.lines ?? [];
	const isShown = showsWords && told.phase === 'live' && lines.length > 0;
	say('captions', isShown ? lines.join('\n') : '');
	show(part('captions'), isShown);
}

async function askWords(): Promise<void> {
	if (showsWords && told.phase === 'live') {
		const response = await fetch(`${base}/words.json`).catch(() => null);
		if (response?.ok) trail = (await response.json()) as typeof trail;
	}
	setTimeout(() => void askWords(), WORDS_MS);
}

part('sound-button')?.addEventListener('click', () => {
	video.muted = false;
	video.play().catch(() => {});
});
video.addEventListener('volumechange', render);

part('captions-button')?.addEventListener('click', ({ currentTarget }) => {
	showsWords = !showsWords;
	const button = currentTarget as HTMLElement;
	button.setAttribute('aria-pressed', String(showsWords));
	button.textContent = showsWords ? words.hideCaptions : words.showCaptions;
	renderWords();
});

part<HTMLFormElement>('write')?.addEventListener('submit', (event) => {
	event.preventDefault();
	const form = event.currentTarget as HTMLFormElement;
	const { from, text } = Object.fromEntries(new FormData(form)) as Record<string, string>;
	const headers = { 'Content-Type': 'application/json' };
	void fetch(`${base}/messages`, { method: 'POST', headers, body: JSON.stringify({ from, text }) })
		.then((response) => response.ok)
		.catch(() => false)
		.then((isWritten) => {
			say('problem', isWritten ? '' : words.notWritten);
			if (isWritten) (form.elements.namedItem('text') as HTMLInputElement).value = '';
		});
});

render();
void ask();
void askWords();
setInterval(() => {
	if (told.phase === 'before') render();
	renderWords();
}, SECOND_MS / 2);
