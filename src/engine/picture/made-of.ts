import { dequal } from 'dequal';
import type { DrawList } from '../../core/picture/draw-list.ts';
import type { Planes } from '../../core/picture/planes.ts';

/** What a picture was made of: while that stays the same, the picture need not be made again. */
export class MadeOf {
	#list: DrawList | null = null;
	#pictures: { planes: Planes; version: number }[] = [];

	/**
	 * Notes what a picture is made of.
	 * @param pictures those of the list that are there, in the order of the list
	 * @returns true when the last one was made of the same
	 */
	isSame(list: DrawList, pictures: readonly Planes[]): boolean {
		const isSame =
			pictures.length === this.#pictures.length &&
			pictures.every(
				(planes, i) => planes === this.#pictures[i]!.planes && planes.version === this.#pictures[i]!.version,
			) &&
			dequal(list, this.#list);
		if (isSame) return true;
		this.#list = list;
		this.#pictures = pictures.map((planes) => ({ planes, version: planes.version }));
		return false;
	}
}
