import { describe, expect, it } from 'vitest';
import { admit, capBroken, PLACES } from './places.ts';

const ridge = PLACES.find(({ app }) => app === 'ridge')!;
const valley = PLACES.find(({ app }) => app === 'valley')!;
const login = { user: 'hollin', password: 'carry-the-water' };

describe('the stand-in host', () => {
	it('lets in who has key and login', () => {
		expect(admit(PLACES, { app: 'ridge', key: ridge.key, login: null })).toBe(ridge);
		expect(admit(PLACES, { app: 'valley', key: valley.key, login })).toBe(valley);
	});

	it('turns others away in words that name the place', () => {
		expect(admit(PLACES, { app: 'ridge', key: 'old-key', login: null })).toMatchObject({
			code: 'NetStream.Publish.BadName',
			description: expect.stringContaining('Ridge Channel'),
		});
		expect(admit(PLACES, { app: 'valley', key: valley.key, login: { ...login, password: 'carry' } })).toMatchObject({
			code: 'NetStream.Publish.Denied',
		});
		expect(admit(PLACES, { app: 'nowhere', key: '', login: null })).toMatchObject({
			description: expect.stringContaining('nowhere'),
		});
	});

	it('holds pictures and rates against its caps', () => {
		expect(capBroken(valley, 1080, 500)?.description).toContain('up to 720 lines');
		expect(capBroken(valley, 720, 2600)?.description).toContain('1000 kbit/s at most');
		expect(capBroken(ridge, 1080, 5900)).toBeNull();
	});
});
