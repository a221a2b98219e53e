/*
 * Draws what the three stand-in cameras see of the old chapel on Lantern Night, and guests in their huts. Runs in a page; everything moves
 * in periods that divide ten seconds, so that the last frame leads into the first.
 */
const W = 1280;
const H = 720;
const PERIOD_S = 10;

/** A swing of `times` per loop, −1 to 1. */
const swing = (t, times, phase = 0) => Math.sin((2 * Math.PI * times * t) / PERIOD_S + phase);
/** Repeatable noise, 0 to 1. */
const grain = (n) => {
	const x = Math.sin(n * 127.1 + 11.7) * 43758.5453;
	return x - Math.floor(x);
};

function disc(c, x, y, r, colour) {
	c.fillStyle = colour;
	c.beginPath();
	c.arc(x, y, r, 0, 7);
	c.fill();
}

function shape(c, colour, points) {
	c.fillStyle = colour;
	c.beginPath();
	points.forEach(([x, y], i) => (i ? c.lineTo(x, y) : c.moveTo(x, y)));
	c.closePath();
	c.fill();
}

function lightPool(c, x, y, r, strength) {
	const pool = c.createRadialGradient(x, y, 4, x, y, r);
	pool.addColorStop(0, `rgba(255, 196, 104, ${strength})`);
	pool.addColorStop(0.4, `rgba(240, 150, 60, ${strength * 0.35})`);
	pool.addColorStop(1, 'rgba(240, 140, 50, 0)');
	c.fillStyle = pool;
	c.fillRect(x - r, y - r, 2 * r, 2 * r);
}

function wall(c, base, stoneW, stoneH) {
	c.fillStyle = base;
	c.fillRect(0, 0, W, H);
	for (let row = 0; row * stoneH < H; row++)
		for (let i = -1; i * stoneW < W; i++) {
			const n = grain(row * 57 + i);
			c.fillStyle = `rgba(${n > 0.5 ? '255,240,220' : '0,0,10'}, ${0.02 + 0.05 * grain(n * 91)})`;
			const x = i * stoneW + (row % 2 ? stoneW / 2 : 0);
			c.fillRect(x + 2, row * stoneH + 2, stoneW - 4, stoneH - 4);
		}
}

function archWindow(c, x, y, w, h, t) {
	c.fillStyle = '#6f675c';
	c.beginPath();
	c.arc(x + w / 2, y + w / 2, w / 2 + 12, Math.PI, 0);
	c.rect(x - 12, y + w / 2, w + 24, h - w / 2 + 12);
	c.fill();
	const sky = c.createLinearGradient(0, y, 0, y + h);
	sky.addColorStop(0, '#0c1730');
	sky.addColorStop(1, '#2b3f66');
	c.save();
	c.beginPath();
	c.arc(x + w / 2, y + w / 2, w / 2, Math.PI, 0);
	c.rect(x, y + w / 2, w, h - w / 2);
	c.clip();
	c.fillStyle = sky;
	c.fillRect(x, y, w, h);
	for (let i = 0; i < 16; i++) {
		const twinkle = 0.5 + 0.5 * swing(t, 2 + (i % 4), i);
		disc(c, x + w * grain(i + x), y + h * 0.6 * grain(i * 3 + x), 1.6, `rgba(240,240,255,${0.3 + 0.6 * twinkle})`);
	}
	shape(c, '#101828', [
		[x, y + h],
		[x, y + h * 0.75],
		[x + w * 0.45, y + h * 0.5],
		[x + w, y + h * 0.8],
		[x + w, y + h],
	]);
	c.restore();
	c.fillStyle = '#4d463d';
	c.fillRect(x + w / 2 - 4, y, 8, h);
	c.fillRect(x, y + h * 0.55, w, 8);
}

function lantern(c, x, top, length, size, t, seed) {
	const sway = swing(t, 2, seed) * length * 0.03;
	const flicker = 0.75 + 0.12 * swing(t, 17, seed) + 0.1 * swing(t, 29, seed * 2);
	const [lx, ly] = [x + sway, top + length];
	c.strokeStyle = '#1b1a1c';
	c.lineWidth = Math.max(2, size / 14);
	c.beginPath();
	c.moveTo(x, top);
	c.lineTo(lx, ly);
	c.stroke();
	lightPool(c, lx, ly + size / 2, size * 4.5, 0.5 * flicker);
	c.fillStyle = '#2a2320';
	c.fillRect(lx - size * 0.4, ly, size * 0.8, size * 0.16);
	c.fillRect(lx - size * 0.4, ly + size * 0.9, size * 0.8, size * 0.14);
	c.fillStyle = `rgb(255, ${190 + 40 * flicker}, ${90 + 40 * flicker})`;
	c.fillRect(lx - size * 0.32, ly + size * 0.16, size * 0.64, size * 0.74);
	disc(c, lx, ly + size * 0.58, size * 0.16 * (0.8 + 0.3 * flicker), '#fff6d8');
}

/** Head and shoulders, seen from the front. `open` is how far the mouth is open, 0 to 1. */
function person(c, x, y, s, look, open, lean) {
	c.save();
	c.translate(x, y);
	c.rotate(lean);
	c.fillStyle = look.coat;
	c.beginPath();
	c.moveTo(-s * 1.5, s * 3.4);
	c.bezierCurveTo(-s * 1.5, s * 1.3, -s * 0.9, s * 1.05, 0, s);
	c.bezierCurveTo(s * 0.9, s * 1.05, s * 1.5, s * 1.3, s * 1.5, s * 3.4);
	c.fill();
	c.fillStyle = look.skin;
	c.fillRect(-s * 0.28, s * 0.6, s * 0.56, s * 0.55);
	shape(c, look.scarf, [
		[-s * 0.6, s * 1.1],
		[s * 0.6, s * 1.1],
		[s * 0.1, s * 1.55],
	]);
	disc(c, 0, -s * 0.1, s * 0.95, look.hair);
	c.fillStyle = look.skin;
	c.beginPath();
	c.ellipse(0, s * 0.08, s * 0.68, s * 0.84, 0, 0, 7);
	c.fill();
	shape(c, look.hair, [
		[-s * 0.72, -s * 0.2],
		[-s * 0.5, -s * 0.85],
		[s * 0.4, -s * 0.9],
		[s * 0.72, -s * 0.2],
		[s * 0.1, -s * 0.5],
	]);
	for (const side of [-1, 1]) disc(c, side * s * 0.27, s * 0.02, s * 0.075, '#241a18');
	c.strokeStyle = 'rgba(90,50,40,0.6)';
	c.lineWidth = s * 0.05;
	c.beginPath();
	c.moveTo(0, s * 0.08);
	c.lineTo(s * 0.07, s * 0.3);
	c.stroke();
	c.fillStyle = '#5e2420';
	c.beginPath();
	c.ellipse(0, s * 0.5, s * 0.2, s * (0.035 + 0.15 * open), 0, 0, 7);
	c.fill();
	// Warm light from the lantern side.
	c.fillStyle = 'rgba(255, 180, 90, 0.14)';
	c.beginPath();
	c.ellipse(s * 0.22, s * 0.08, s * 0.45, s * 0.8, 0, 0, 7);
	c.fill();
	c.restore();
}

const LOOKS = [
	{ coat: '#3d5a5c', scarf: '#c46a3a', skin: '#d9a983', hair: '#4a3226' },
	{ coat: '#6a3f45', scarf: '#d9b45a', skin: '#8a5a3c', hair: '#1f1a1a' },
	{ coat: '#46506e', scarf: '#b9c4c9', skin: '#e3b896', hair: '#b98a4a' },
	{ coat: '#4c5a3c', scarf: '#8f3d3a', skin: '#c68f66', hair: '#2b211f' },
	{ coat: '#59466b', scarf: '#e0cf9c', skin: '#e6c1a2', hair: '#8d8a86' },
	{ coat: '#2f4a66', scarf: '#cf8b4a', skin: '#6e452d', hair: '#191514' },
];

/** Mouths of people who talk: bursts and rests. */
const talking = (t, phase = 0) =>
	Math.max(0, swing(t, 37, phase)) * (swing(t, 3, phase) > -0.5 ? 0.5 + 0.5 * Math.max(0, swing(t, 13, phase)) : 0);

function drawLectern(c, t) {
	wall(c, '#4a4238', 150, 72);
	archWindow(c, 90, 70, 210, 380, t);
	lightPool(c, 900, 220, 620, 0.3);
	lantern(c, 1060, -10, 150, 92, t, 1);
	person(c, 640 + 14 * swing(t, 1), 250 + 6 * swing(t, 3), 118, LOOKS[0], talking(t), 0.03 * swing(t, 2));
	// A hand that speaks along.
	const lift = Math.max(0, swing(t, 2, 0.6));
	c.strokeStyle = LOOKS[0].coat;
	c.lineWidth = 62;
	c.lineCap = 'round';
	c.beginPath();
	c.moveTo(800, 610);
	c.quadraticCurveTo(900, 600 - 60 * lift, 895 + 20 * swing(t, 4), 540 - 130 * lift);
	c.stroke();
	disc(c, 897 + 20 * swing(t, 4), 510 - 135 * lift, 36, LOOKS[0].skin);
	shape(c, '#5b3b22', [
		[370, 560],
		[910, 560],
		[970, 720],
		[310, 720],
	]);
	shape(c, '#7a5230', [
		[350, 535],
		[930, 535],
		[912, 575],
		[368, 575],
	]);
	shape(c, '#efe6cf', [
		[520, 520],
		[760, 520],
		[780, 548],
		[500, 548],
	]);
	c.strokeStyle = '#17181b';
	c.lineWidth = 7;
	c.beginPath();
	c.moveTo(455, 540);
	c.quadraticCurveTo(430, 430, 528, 420);
	c.stroke();
	disc(c, 536, 420, 15, '#17181b');
}

function drawChapelWide(c, t) {
	wall(c, '#3a3630', 64, 34);
	shape(c, '#2a2723', [
		[0, 0],
		[640, -120],
		[1280, 0],
		[1280, 60],
		[640, -40],
		[0, 60],
	]);
	archWindow(c, 130, 110, 110, 230, t);
	archWindow(c, 1040, 110, 110, 230, t);
	c.fillStyle = '#57493a';
	c.beginPath();
	c.arc(640, 250, 190, Math.PI, 0);
	c.rect(450, 250, 380, 170);
	c.fill();
	lightPool(c, 640, 330, 420, 0.45);
	shape(c, '#6d4c30', [
		[360, 420],
		[920, 420],
		[1010, 470],
		[270, 470],
	]);
	person(c, 560, 330 + 2 * swing(t, 3), 21, LOOKS[0], talking(t), 0.04 * swing(t, 2));
	shape(c, '#5b3b22', [
		[520, 372],
		[600, 372],
		[608, 425],
		[512, 425],
	]);
	// Harmonium and its player.
	person(c, 830 + 4 * swing(t, 5), 338, 20, LOOKS[4], 0.1, 0.06 * swing(t, 5));
	shape(c, '#43291a', [
		[770, 372],
		[890, 372],
		[890, 430],
		[770, 430],
	]);
	c.fillStyle = '#efe6cf';
	c.fillRect(780, 372, 100, 9);
	for (let i = 0; i < 6; i++)
		person(c, 330 + 27 * i, 346 + (i % 2) * 12, 14, LOOKS[i], 0.3 + 0.3 * swing(t, 4, i), 0.05 * swing(t, 1, i));
	for (let i = 0; i < 5; i++) lantern(c, 180 + 230 * i, -20, 90 + 26 * Math.abs(i - 2), 38, t, i * 1.7);
	// People in the rows, from behind.
	for (let row = 0; row < 4; row++) {
		const y = 490 + row * 52;
		const size = 15 + row * 5;
		for (let i = 0; i < 13 - row; i++) {
			const gap = 1280 / (13 - row);
			const x = gap * (i + 0.5) + (grain(row * 31 + i) - 0.5) * 20 + 2 * swing(t, 1 + (i % 3), i * row);
			if (grain(row * 17 + i * 3) < 0.1) continue;
			const tone = 20 + 26 * grain(i * 7 + row);
			c.fillStyle = `rgb(${tone + 14}, ${tone + 8}, ${tone + 8})`;
			c.beginPath();
			c.ellipse(x, y + size * 2.1, size * 1.7, size * 1.5, 0, 0, 7);
			c.fill();
			disc(c, x, y + 2 * swing(t, 2, i), size, `rgb(${tone + 26}, ${tone + 14}, ${tone + 6})`);
		}
		c.fillStyle = '#2c1d13';
		c.fillRect(0, y + size * 2.2, W, 12 + row * 3);
	}
	c.fillStyle = '#1e140d';
	c.fillRect(0, 690, W, 30);
	for (let i = 0; i < 22; i++) c.fillRect(20 + i * 60, 655, 12, 40);
	c.fillRect(0, 650, W, 12);
}

function drawChoirLeft(c, t) {
	wall(c, '#3f3d4a', 110, 58);
	shape(c, '#7c3a35', [
		[840, -10],
		[1130, -10],
		[1130, 330],
		[985, 280],
		[840, 330],
	]);
	shape(c, '#e4c46a', [
		[985, 60],
		[1070, 200],
		[900, 200],
	]);
	shape(c, '#7c3a35', [
		[985, 130],
		[1020, 200],
		[950, 200],
	]);
	lightPool(c, 250, 150, 520, 0.35);
	lantern(c, 190, -10, 120, 74, t, 0.4);
	lantern(c, 760, -10, 70, 60, t, 2.1);
	for (let i = 0; i < 5; i++) {
		const sing = 0.35 + 0.5 * Math.max(0, swing(t, 6, i * 0.2));
		person(
			c,
			160 + 225 * i + 8 * swing(t, 1, i),
			255 + 5 * swing(t, 2, i),
			66,
			LOOKS[(i + 2) % 6],
			sing,
			0.03 * swing(t, 1, i),
		);
	}
	for (let i = 0; i < 4; i++) {
		const sing = 0.35 + 0.5 * Math.max(0, swing(t, 6, 1 + i * 0.2));
		const x = 270 + 240 * i + 9 * swing(t, 1, i + 3);
		person(c, x, 425 + 5 * swing(t, 2, i + 2), 78, LOOKS[i], sing, 0.03 * swing(t, 1, i + 4));
		const y = 600 + 5 * swing(t, 2, i + 2);
		shape(c, '#20242c', [
			[x - 82, y],
			[x, y + 16],
			[x + 82, y],
			[x + 92, y + 120],
			[x - 92, y + 120],
		]);
		shape(c, '#efe6cf', [
			[x - 74, y + 4],
			[x, y + 20],
			[x + 74, y + 4],
			[x + 70, y - 6],
			[x, y + 8],
			[x - 70, y - 6],
		]);
	}
}

/** A plank wall of a hut, by lamplight. */
function hutWall(c, base) {
	c.fillStyle = base;
	c.fillRect(0, 0, W, H);
	for (let i = 0; i * 64 < W; i++) {
		c.fillStyle = `rgba(0, 0, 0, ${0.05 + 0.16 * grain(i * 7)})`;
		c.fillRect(i * 64, 0, 60, H);
		for (let k = 0; k < 3; k++)
			disc(c, i * 64 + 14 + 34 * grain(i * 5 + k), H * grain(i * 11 + k * 3), 4, 'rgba(0,0,0,0.25)');
	}
}

/** A square window with snow that falls past it. */
function hutWindow(c, x, y, w, h, t) {
	c.fillStyle = '#3a2a1c';
	c.fillRect(x - 14, y - 14, w + 28, h + 28);
	const sky = c.createLinearGradient(0, y, 0, y + h);
	sky.addColorStop(0, '#1a2b4c');
	sky.addColorStop(1, '#5c7394');
	c.fillStyle = sky;
	c.fillRect(x, y, w, h);
	c.save();
	c.beginPath();
	c.rect(x, y, w, h);
	c.clip();
	shape(c, '#c9d4e2', [
		[x, y + h],
		[x, y + h * 0.7],
		[x + w * 0.3, y + h * 0.42],
		[x + w * 0.55, y + h * 0.66],
		[x + w * 0.8, y + h * 0.36],
		[x + w, y + h * 0.6],
		[x + w, y + h],
	]);
	for (let i = 0; i < 50; i++) {
		const fall = (grain(i) + ((1 + (i % 3)) * t) / PERIOD_S) % 1;
		disc(c, x + w * grain(i * 9) + 10 * swing(t, 1 + (i % 2), i), y + h * fall, 2 + 2 * grain(i * 4), '#eef3f8');
	}
	c.restore();
	c.fillStyle = '#3a2a1c';
	c.fillRect(x + w / 2 - 5, y, 10, h);
	c.fillRect(x, y + h / 2 - 5, w, 10);
}

function drawColdTarn(c, t) {
	hutWall(c, '#6b4a2e');
	hutWindow(c, 110, 90, 260, 260, t);
	lightPool(c, 980, 200, 640, 0.32);
	lantern(c, 1090, -10, 120, 80, t, 2);
	person(c, 640 + 10 * swing(t, 1), 330 + 5 * swing(t, 3), 150, LOOKS[3], talking(t, 0.4), 0.025 * swing(t, 2));
}

function drawThreeLarches(c, t) {
	hutWall(c, '#4f5a50');
	hutWindow(c, 880, 70, 270, 300, t);
	lightPool(c, 260, 240, 620, 0.3);
	lantern(c, 210, -10, 170, 84, t, 4);
	person(c, 610 + 12 * swing(t, 1, 1), 320 + 6 * swing(t, 2), 158, LOOKS[4], talking(t, 2.2), 0.03 * swing(t, 1, 2));
}

/** The door of the chapel's tower from outside, where people arrive. */
function drawTowerDoor(c, t) {
	wall(c, '#2c2f3a', 120, 60);
	c.fillStyle = '#15161c';
	c.fillRect(0, 590, W, 130);
	shape(c, '#22242c', [
		[420, 720],
		[620, 560],
		[900, 560],
		[1100, 720],
	]);
	c.fillStyle = '#6f675c';
	c.beginPath();
	c.arc(760, 300, 150, Math.PI, 0);
	c.rect(610, 300, 300, 270);
	c.fill();
	const inside = c.createLinearGradient(0, 170, 0, 570);
	inside.addColorStop(0, '#f0b45c');
	inside.addColorStop(1, '#8a4f1e');
	c.fillStyle = inside;
	c.beginPath();
	c.arc(760, 300, 126, Math.PI, 0);
	c.rect(634, 300, 252, 264);
	c.fill();
	lightPool(c, 760, 470, 420, 0.4);
	lantern(c, 560, 120, 150, 60, t, 3);
	lantern(c, 965, 120, 150, 60, t, 5);
	const walk = t / PERIOD_S;
	person(c, 420 + 420 * walk, 470 - 40 * walk + 5 * swing(t, 8), 92 - 16 * walk, LOOKS[1], 0, 0.02 * swing(t, 4));
	person(c, 1180 - 300 * walk, 480 - 40 * walk + 5 * swing(t, 7, 1), 88 - 14 * walk, LOOKS[2], 0, 0.02 * swing(t, 5));
	for (let i = 0; i < 70; i++) {
		const fall = (grain(i) + ((1 + (i % 3)) * t) / PERIOD_S) % 1;
		disc(
			c,
			W * grain(i * 7) + 16 * swing(t, 1 + (i % 2), i),
			H * fall,
			1.5 + 2 * grain(i * 4),
			'rgba(238,243,248,0.7)',
		);
	}
}

const DRAW = {
	lectern: drawLectern,
	'chapel-wide': drawChapelWide,
	'choir-left': drawChoirLeft,
	'cold-tarn': drawColdTarn,
	'three-larches': drawThreeLarches,
	'tower-door': drawTowerDoor,
};

/** Draws frame number `frame` of `camera` with its name and counter in the corner. */
function drawFrame(c, camera, name, frame, fps) {
	const t = frame / fps;
	DRAW[camera](c, t);
	const dim = c.createRadialGradient(W / 2, H / 2, 300, W / 2, H / 2, 800);
	dim.addColorStop(0, 'rgba(5, 6, 12, 0)');
	dim.addColorStop(1, 'rgba(5, 6, 12, 0.55)');
	c.fillStyle = dim;
	c.fillRect(0, 0, W, H);
	c.fillStyle = 'rgba(10, 12, 16, 0.7)';
	c.fillRect(W - 238, 14, 224, 34);
	c.font = '20px "DejaVu Sans Mono", monospace';
	c.fillStyle = '#ece7db';
	c.textAlign = 'right';
	c.fillText(`${name} ${String(frame).padStart(3, '0')}`, W - 24, 38);
}
