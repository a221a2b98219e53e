/** The song library as a page works with it: the list, imports, changes with their way back. */
import type { Song, SongLine } from '../../core/words/song.ts';
import { askServer } from '../ui/ask.ts';
import { songs as words } from '../words/index.ts';
import { readSongFiles, type FromFile } from './import.ts';

/** What has become of the files of an import. */
export interface Imported {
	added: string[];
	/** Songs that the library has, not added. */
	same: { song: Song; file: string; is: { id: string; title: string } }[];
	failed: { file: string; problem: string }[];
	/** Files looked at so far, of all. */
	done: number;
	of: number;
}

const AT_ONCE = 20;

export class SongShelf {
	list = $state.raw<SongLine[]>([]);
	search = $state('');
	problem = $state('');
	notice = $state.raw<{ text: string; undo: () => Promise<void> } | null>(null);
	imported = $state.raw<Imported | null>(null);
	#asked = 0;

	constructor(list: SongLine[]) {
		this.list = list;
	}

	async refresh(): Promise<void> {
		const asked = ++this.#asked;
		const response = await fetch(`/api/songs?search=${encodeURIComponent(this.search)}`).catch(() => null);
		// An answer to what was typed before comes too late.
		if (asked !== this.#asked) return;
		if (response?.ok) {
			this.list = (await response.json()) as SongLine[];
			this.problem = '';
		} else this.problem = words.listLost;
	}

	async get(id: string): Promise<Song | null> {
		const response = await fetch(`/api/songs/${id}`).catch(() => null);
		if (response?.ok) return (await response.json()) as Song;
		this.problem = words.songLost;
		return null;
	}

	/** @returns true when it is stored */
	async put(id: string, song: Song): Promise<boolean> {
		return this.#ask(`/api/songs/${id}`, 'PUT', song);
	}

	/** @returns its id; null when it is not stored */
	async create(song: Song): Promise<string | null> {
		const id = crypto.randomUUID();
		return (await this.put(id, song)) ? id : null;
	}

	async remove(id: string): Promise<boolean> {
		const song = await this.get(id);
		if (!song || !(await this.#ask(`/api/songs/${id}`, 'DELETE', {}))) return false;
		const undo = async () => void (await this.put(id, song));
		this.notice = { text: words.removed(song.title), undo };
		return true;
	}

	/** Reads files and adds what is in them, as far as the library does not have it. */
	async importFiles(files: Iterable<File>): Promise<void> {
		this.notice = null;
		this.imported = { added: [], same: [], failed: [], done: 0, of: 0 };
		const read = await readSongFiles(files);
		this.#note({ of: read.length });
		const failed = read.flatMap((each) => ('problem' in each ? [{ file: each.name, problem: each.problem }] : []));
		this.#note({ failed, done: failed.length });
		const good = read.filter((each): each is FromFile & { song: Song } => 'song' in each);
		for (let i = 0; i < good.length; i += AT_ONCE) await this.#add(good.slice(i, i + AT_ONCE));
		await this.refresh();
	}

	async #add(files: readonly (FromFile & { song: Song })[]): Promise<void> {
		type Answer = { added: ({ id: string } | { sameAs: { id: string; title: string } })[] };
		const asked = await askServer<Answer>('/api/songs', 'POST', { songs: files.map(({ song }) => song) });
		const { added, same, failed, done } = this.imported!;
		if ('problem' in asked) {
			const lost = files.map(({ name }) => ({ file: name, problem: asked.problem }));
			return this.#note({ failed: [...failed, ...lost], done: done + files.length });
		}
		asked.answer.added.forEach((answer, i) => {
			const { name, song } = files[i]!;
			if ('id' in answer) added.push(song.title);
			else same.push({ song, file: name, is: answer.sameAs });
		});
		this.#note({ added: [...added], same: [...same], done: done + files.length });
	}

	/** Decides of a song that the library has: it takes the other one's place, or is kept beside it. */
	async decide(same: Imported['same'][number], as: 'replace' | 'beside'): Promise<void> {
		const isStored = as === 'replace' ? await this.put(same.is.id, same.song) : (await this.create(same.song)) !== null;
		if (isStored) this.#note({ same: this.imported!.same.filter((each) => each !== same) });
	}

	#note(part: Partial<Imported>): void {
		if (this.imported) this.imported = { ...this.imported, ...part };
	}

	async #ask(path: string, method: string, body: unknown): Promise<boolean> {
		const asked = await askServer(path, method, body);
		this.problem = 'problem' in asked ? asked.problem : '';
		await this.refresh();
		return this.problem === '';
	}
}
