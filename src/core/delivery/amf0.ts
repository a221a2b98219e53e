/**
 * AMF0, the encoding of RTMP's commands ("Action Message Format, AMF 0", 2007). Numbers, booleans, strings,
 * objects, null, undefined, ECMA arrays, strict arrays, dates and long strings; the markers no RTMP host sends
 * (references, typed objects, XML) are refused by name.
 */
import { concat, ProtocolError, viewOf } from './bytes.ts';
import { decodeUtf8, encodeUtf8 } from './utf8.ts';

export type AmfValue = number | boolean | string | null | undefined | Date | AmfValue[] | AmfObject;
export interface AmfObject {
	[name: string]: AmfValue;
}

const Marker = {
	number: 0,
	boolean: 1,
	string: 2,
	object: 3,
	null: 5,
	undefined: 6,
	ecmaArray: 8,
	objectEnd: 9,
	strictArray: 10,
	date: 11,
	longString: 12,
} as const;

/** Nesting and lengths beyond these come from no real host. */
const MAX_DEPTH = 16;
const MAX_ITEMS = 4096;

/** Encodes values one after another. Arrays become strict arrays, plain objects become objects. */
export function encodeAmf0(...values: AmfValue[]): Uint8Array {
	const parts: Uint8Array[] = [];
	for (const value of values) write(parts, value, 0);
	return concat(parts);
}

/** Encodes an object as an ECMA array, the form that `onMetaData` is expected in. */
export function encodeEcmaArray(object: AmfObject): Uint8Array {
	const parts = [Uint8Array.of(Marker.ecmaArray), u32(Object.keys(object).length)];
	writeProperties(parts, object, 0);
	return concat(parts);
}

function write(parts: Uint8Array[], value: AmfValue, depth: number): void {
	if (depth > MAX_DEPTH) throw new RangeError(`AMF0 value nests deeper than ${MAX_DEPTH}`);
	if (value === null) parts.push(Uint8Array.of(Marker.null));
	else if (value === undefined) parts.push(Uint8Array.of(Marker.undefined));
	else if (typeof value === 'number') parts.push(f64(Marker.number, value));
	else if (typeof value === 'boolean') parts.push(Uint8Array.of(Marker.boolean, value ? 1 : 0));
	else if (typeof value === 'string') {
		const text = encodeUtf8(value);
		if (text.length > 0xffff) parts.push(Uint8Array.of(Marker.longString), u32(text.length), text);
		else parts.push(Uint8Array.of(Marker.string, text.length >> 8, text.length & 0xff), text);
	} else if (value instanceof Date) parts.push(f64(Marker.date, value.getTime()), Uint8Array.of(0, 0));
	else if (Array.isArray(value)) {
		parts.push(Uint8Array.of(Marker.strictArray), u32(value.length));
		for (const item of value) write(parts, item, depth + 1);
	} else {
		parts.push(Uint8Array.of(Marker.object));
		writeProperties(parts, value, depth);
	}
}

function writeProperties(parts: Uint8Array[], object: AmfObject, depth: number): void {
	for (const [name, value] of Object.entries(object)) {
		const text = encodeUtf8(name);
		if (text.length > 0xffff) throw new RangeError(`AMF0 property name of ${text.length} bytes`);
		parts.push(Uint8Array.of(text.length >> 8, text.length & 0xff), text);
		write(parts, value, depth + 1);
	}
	parts.push(Uint8Array.of(0, 0, Marker.objectEnd));
}

function f64(marker: number, value: number): Uint8Array {
	const bytes = new Uint8Array(9);
	bytes[0] = marker;
	viewOf(bytes).setFloat64(1, value);
	return bytes;
}

function u32(value: number): Uint8Array {
	const bytes = new Uint8Array(4);
	viewOf(bytes).setUint32(0, value);
	return bytes;
}

/**
 * Decodes all values of a message body.
 * @throws ProtocolError on a truncated value, an unknown marker, or nesting and lengths beyond the limits.
 */
export function decodeAmf0(bytes: Uint8Array): AmfValue[] {
	const reader = new Reader(bytes);
	const values: AmfValue[] = [];
	while (!reader.done) values.push(reader.value(0));
	return values;
}

class Reader {
	#bytes: Uint8Array;
	#view: DataView;
	#at = 0;

	constructor(bytes: Uint8Array) {
		this.#bytes = bytes;
		this.#view = viewOf(bytes);
	}

	get done(): boolean {
		return this.#at >= this.#bytes.length;
	}

	value(depth: number): AmfValue {
		if (depth > MAX_DEPTH) throw new ProtocolError(`AMF0 value nests deeper than ${MAX_DEPTH}`);
		const marker = this.#bytes[this.#need(1)]!;
		switch (marker) {
			case Marker.number:
				return this.#view.getFloat64(this.#need(8));
			case Marker.boolean:
				return this.#bytes[this.#need(1)] !== 0;
			case Marker.string:
				return this.#text(this.#view.getUint16(this.#need(2)));
			case Marker.longString:
				return this.#text(this.#view.getUint32(this.#need(4)));
			case Marker.object:
				return this.#properties(depth);
			case Marker.ecmaArray:
				this.#need(4);
				return this.#properties(depth);
			case Marker.strictArray: {
				const length = this.#view.getUint32(this.#need(4));
				if (length > MAX_ITEMS) throw new ProtocolError(`AMF0 array of ${length} items`);
				return Array.from({ length }, () => this.value(depth + 1));
			}
			case Marker.date: {
				const time = this.#view.getFloat64(this.#need(8));
				this.#need(2);
				return new Date(time);
			}
			case Marker.null:
				return null;
			case Marker.undefined:
				return undefined;
			default:
				throw new ProtocolError(`AMF0 marker ${marker} is not used in RTMP`);
		}
	}

	#properties(depth: number): AmfObject {
		const object: AmfObject = {};
		for (let count = 0; ; count++) {
			if (count > MAX_ITEMS) throw new ProtocolError(`AMF0 object of more than ${MAX_ITEMS} properties`);
			const name = this.#text(this.#view.getUint16(this.#need(2)));
			if (name === '' && this.#bytes[this.#at] === Marker.objectEnd) {
				this.#at++;
				return object;
			}
			const value = this.value(depth + 1);
			// A host that names a property __proto__ must not reach the prototype.
			Object.defineProperty(object, name, { value, enumerable: true, writable: true, configurable: true });
		}
	}

	#text(length: number): string {
		const at = this.#need(length);
		return decodeUtf8(this.#bytes.subarray(at, at + length));
	}

	#need(length: number): number {
		const at = this.#at;
		if (at + length > this.#bytes.length) throw new ProtocolError(`AMF0 value ends after ${this.#bytes.length} bytes`);
		this.#at += length;
		return at;
	}
}
