/** The first page's events as it works with them: made, changed, put away, each with its way back. */
import type { Picture } from '../../core/show/state.ts';
import type { Answers, Asks } from '../../core/show/templates/template.ts';
import { askServer } from '../ui/ask.ts';
import { plan as words } from '../words/index.ts';
import { invalidateAll } from '$app/navigation';

/** What an event is made from. */
export type From = { is: 'template' | 'event'; id: string } | { is: 'nothing'; picture: Picture };

interface Change {
	title?: string;
	startsAt?: string;
	picture?: Picture;
	archived?: boolean;
	deleted?: boolean;
}

export class EventShelf {
	problem = $state('');
	notice = $state.raw<{ text: string; undo: (() => Promise<unknown>) | null } | null>(null);
	/** Ends with the newest change of a template. */
	#changes: Promise<unknown> = Promise.resolve();

	/** @returns ids of what was made; null when it was not, which is said */
	async make(from: From, answers: Answers, repeats: string[] = []): Promise<string[] | null> {
		const asked = await askServer<{ ids: string[] }>('/api/events', 'POST', { from, answers, repeats });
		if (!this.#told(asked)) return null;
		await invalidateAll();
		return asked.answer.ids;
	}

	async change(id: string, change: Change): Promise<boolean> {
		const asked = await askServer(`/api/events/${id}`, 'PATCH', change);
		if (!this.#told(asked)) return false;
		await invalidateAll();
		return true;
	}

	/** Writes one event to a file: with its clips and songs, without keys. */
	async export(id: string): Promise<void> {
		const order = { eventIds: [id], passphrase: null };
		const asked = await askServer<{ id: string }>('/api/export', 'POST', order);
		if (this.#told(asked)) location.assign(`/api/export/${asked.answer.id}`);
	}

	/** Puts an event out of sight, and offers to bring it back. */
	async putAway(id: string, title: string, how: 'archived' | 'deleted'): Promise<void> {
		if (!(await this.change(id, { [how]: true }))) return;
		this.notice = { text: words.putAway[how](title), undo: () => this.change(id, { [how]: false }) };
	}

	/** Takes back what the notice says. */
	undo(): void {
		const undo = this.notice?.undo;
		this.notice = null;
		void undo?.();
	}

	async bringBack(id: string, title: string): Promise<void> {
		if (await this.change(id, { archived: false }))
			this.notice = { text: words.broughtBack(title), undo: () => this.change(id, { archived: true }) };
	}

	/** Changes what a template asks for, one change after the other: each says all of it. */
	changeTemplate(id: string, asks: Asks): Promise<unknown> {
		const change = async () => {
			if (this.#told(await askServer(`/api/templates/${id}`, 'PUT', { asks }))) await invalidateAll();
		};
		return (this.#changes = this.#changes.then(change, change));
	}

	async removeTemplate(id: string, name: string): Promise<void> {
		const asked = await askServer(`/api/templates/${id}`, 'DELETE', {});
		if (!this.#told(asked)) return;
		await invalidateAll();
		const undo = async () => {
			this.#told(await askServer(`/api/templates/${id}`, 'PUT', { deleted: false }));
			await invalidateAll();
		};
		this.notice = { text: words.putAway.deleted(name), undo };
	}

	#told<T>(asked: { answer: T } | { problem: string }): asked is { answer: T } {
		this.problem = 'problem' in asked ? asked.problem : '';
		return this.problem === '';
	}
}
