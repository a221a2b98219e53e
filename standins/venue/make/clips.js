/*
 * Draws the clips of Lantern Night: a welcome, a film of the season on the fell, a closing. Runs in a page, beside
 * scenes.js.
 */
const INK = '#12161c';
const PAPER = '#ece7db';
const LAMP = '#f0a830';

const ease = (x) => {
	const t = Math.min(1, Math.max(0, x));
	return t * t * (3 - 2 * t);
};
/** In over its first second and out over its last, of a span in seconds. */
const inAndOut = (t, from, to, fade = 1) => ease((t - from) / fade) * ease((to - t) / fade);

function sky(c, top, bottom) {
	const light = c.createLinearGradient(0, 0, 0, H);
	light.addColorStop(0, top);
	light.addColorStop(1, bottom);
	c.fillStyle = light;
	c.fillRect(0, 0, W, H);
}

/** A ridge of hills: its height along the way is a few waves, so that it can be walked along for ever. */
function ridge(c, colour, base, height, length, shift, seed) {
	c.fillStyle = colour;
	c.beginPath();
	c.moveTo(0, H);
	for (let x = 0; x <= W; x += 8) {
		const at = (x + shift) / length;
		const y =
			Math.sin(at + seed) +
			0.5 * Math.sin(2.3 * at + 2 * seed) +
			0.22 * Math.sin(5.1 * at + 3 * seed) +
			0.08 * Math.sin(13 * at);
		c.lineTo(x, base - height * y);
	}
	c.lineTo(W, H);
	c.closePath();
	c.fill();
}

function words(c, text, x, y, size, colour, alpha, weight = 700) {
	c.save();
	c.globalAlpha = alpha;
	c.fillStyle = colour;
	c.font = `${weight} ${size}px "Atkinson Hyperlegible Next", sans-serif`;
	c.textAlign = 'center';
	c.fillText(text, x, y);
	c.restore();
}

function lantern(c, x, y, lit, t, n) {
	if (lit > 0) lightPool(c, x, y, 190 * lit, 0.75 * lit * (0.92 + 0.08 * Math.sin(7 * t + n)));
	c.strokeStyle = '#3a3026';
	c.lineWidth = 3;
	c.beginPath();
	c.arc(x, y - 24, 11, Math.PI, 0);
	c.stroke();
	c.fillStyle = '#4b3e30';
	c.fillRect(x - 15, y - 26, 30, 6);
	c.fillRect(x - 15, y + 20, 30, 6);
	c.fillStyle = `rgb(${70 + 185 * lit}, ${58 + 142 * lit}, ${48 + 72 * lit})`;
	c.fillRect(x - 11, y - 20, 22, 40);
}

function hut(c, x, y, size, light) {
	shape(c, '#4a443d', [
		[x - size, y],
		[x - size, y - 0.7 * size],
		[x, y - 1.3 * size],
		[x + size, y - 0.7 * size],
		[x + size, y],
	]);
	shape(c, '#2c2a28', [
		[x - 1.15 * size, y - 0.62 * size],
		[x, y - 1.42 * size],
		[x + 1.15 * size, y - 0.62 * size],
		[x, y - 1.2 * size],
	]);
	c.fillStyle = light;
	c.fillRect(x - 0.55 * size, y - 0.55 * size, 0.35 * size, 0.3 * size);
	c.fillRect(x + 0.2 * size, y - 0.55 * size, 0.35 * size, 0.3 * size);
}

function walker(c, x, y, step, colour) {
	c.strokeStyle = colour;
	c.lineWidth = 5;
	c.lineCap = 'round';
	c.beginPath();
	c.moveTo(x, y - 26);
	c.lineTo(x, y - 12);
	c.lineTo(x + 7 * Math.sin(step), y);
	c.moveTo(x, y - 12);
	c.lineTo(x - 7 * Math.sin(step), y);
	c.moveTo(x, y - 24);
	c.lineTo(x + 9, y - 14);
	c.stroke();
	disc(c, x, y - 32, 5, colour);
}

function night(c, t) {
	sky(c, '#0a0f16', '#243447');
	for (let i = 0; i < 140; i++) {
		const shine = 0.35 + 0.3 * Math.sin(t * (0.6 + grain(i)) + i);
		disc(c, W * grain(i + 3), 430 * grain(i * 7), 0.8 + 1.2 * grain(i * 5), `rgba(236, 231, 219, ${shine})`);
	}
	ridge(c, '#1b2530', 420, 70, 230, 20 * t, 1);
	ridge(c, '#141b24', 520, 55, 170, 32 * t, 2.4);
	ridge(c, '#0d1218', 640, 40, 130, 48 * t, 4.1);
}

/** Four lanterns are lit one after another; the name of the evening stands above them. */
function welcome(c, t) {
	night(c, t);
	for (let i = 0; i < 4; i++) lantern(c, 340 + 200 * i, 520, ease((t - 1.2 - 1.4 * i) / 0.7), t, i);
	words(c, 'Lantern Night', W / 2, 250, 112, PAPER, ease((t - 0.5) / 1.5));
	words(c, 'Hollin Fell Huts Association', W / 2, 320, 40, LAMP, ease((t - 2) / 1.5), 400);
	words(c, 'Welcome', W / 2, 655, 44, PAPER, ease((t - 7.5) / 1), 400);
}

const SEASONS = [
	{
		name: 'Spring',
		says: 'The paths come out of the snow',
		top: '#8fb7c9',
		low: '#dfe7d3',
		far: '#7d98a3',
		mid: '#6f8f5f',
		near: '#4f7a3d',
	},
	{
		name: 'Summer',
		says: 'Four huts, and every bed taken',
		top: '#5d9fd0',
		low: '#f1e6bd',
		far: '#6f8ca6',
		mid: '#5d8a4a',
		near: '#3d6b31',
	},
	{
		name: 'Autumn',
		says: 'Water carried up, lamps filled',
		top: '#9c7f6d',
		low: '#e9c58e',
		far: '#80727d',
		mid: '#9a6b38',
		near: '#6e4a25',
	},
	{
		name: 'Winter',
		says: 'A light in the window, for whoever comes',
		top: '#27384b',
		low: '#aab8c4',
		far: '#8d9fb0',
		mid: '#c9d3da',
		near: '#e8edf0',
	},
];

/** A walk along the fell through the seasons: each has 21 s, the title and the end the rest. */
function season(c, t) {
	const at = Math.min(3.999, Math.max(0, (t - 4) / 21));
	const one = SEASONS[Math.floor(at)];
	const isWinter = one.name === 'Winter';
	sky(c, one.top, one.low);
	disc(c, 980 - 60 * at, 190 + 30 * Math.sin(at), 46, isWinter ? '#dfe5ea' : '#fff4cf');
	ridge(c, one.far, 400, 90, 260, 14 * t, 1);
	ridge(c, one.mid, 500, 60, 190, 34 * t, 2.4);
	hut(c, 1500 - ((34 * t) % 1900), 500, 60, isWinter ? LAMP : '#d8cba8');
	ridge(c, one.near, 620, 42, 150, 70 * t, 4.1);
	for (let i = 0; i < 3; i++) walker(c, 420 + 60 * i, 640 - 8 * i, 6 * t + i, ['#7b2d26', '#2f4a63', '#3c4a2c'][i]);
	if (isWinter)
		for (let i = 0; i < 160; i++)
			disc(
				c,
				(W * grain(i) + 30 * t * (1 + grain(i * 3))) % W,
				(H * grain(i * 11) + 90 * t * (0.6 + grain(i))) % H,
				2,
				'rgba(255, 255, 255, 0.8)',
			);
	if (one.name === 'Autumn')
		for (let i = 0; i < 40; i++)
			disc(
				c,
				(W * grain(i) + 80 * t) % W,
				(H * grain(i * 11) + 40 * t) % H,
				3.5,
				`rgba(${170 + 50 * grain(i)}, 96, 34, 0.8)`,
			);
	const inSeason = (t - 4) % 21;
	if (t > 4 && t < 88) {
		words(c, one.name, W / 2, 130, 60, INK, 0.85 * inAndOut(inSeason, 0.5, 7));
		words(c, one.says, W / 2, 690, 34, isWinter ? INK : PAPER, inAndOut(inSeason, 2, 12), 400);
	}
	if (t < 5) {
		c.fillStyle = `rgba(18, 22, 28, ${1 - ease((t - 3) / 1.5)})`;
		c.fillRect(0, 0, W, H);
		words(c, 'Season on the fell', W / 2, 380, 84, PAPER, inAndOut(t, 0.3, 4));
	}
	if (t > 87.5) {
		c.fillStyle = `rgba(18, 22, 28, ${ease((t - 87.5) / 1.5)})`;
		c.fillRect(0, 0, W, H);
	}
}

/** The lanterns go out one after another. */
function closing(c, t) {
	night(c, t);
	for (let i = 0; i < 4; i++) lantern(c, 340 + 200 * i, 520, 1 - ease((t - 3 - 2.4 * i) / 0.9), t, i);
	words(c, 'Thank you', W / 2, 240, 104, PAPER, inAndOut(t, 0.5, 14.2));
	words(c, 'and good night from Nether Hollin', W / 2, 312, 40, LAMP, inAndOut(t, 1.8, 14.2), 400);
	c.fillStyle = `rgba(0, 0, 0, ${ease((t - 13.4) / 1.4)})`;
	c.fillRect(0, 0, W, H);
}

const CLIPS = { welcome, season, closing };

/** Draws one frame of a clip. */
function drawClip(c, id, frame, fps) {
	CLIPS[id](c, frame / fps);
}
