/** XML as elements with their texts in order. */

export interface XmlElement {
	name: string;
	attributes: Record<string, string>;
	children: XmlNode[];
}
export type XmlNode = XmlElement | string;

/** What fast-xml-parser gives when it keeps the order. */
type Parsed = Record<string, unknown>;

export function nodesOf(parsed: readonly Parsed[]): XmlNode[] {
	return parsed.map((each) => {
		const name = Object.keys(each).find((key) => key !== ':@')!;
		if (name === '#text') return String(each[name]);
		const children = nodesOf((each[name] ?? []) as Parsed[]);
		return { name, attributes: (each[':@'] ?? {}) as Record<string, string>, children };
	});
}

export function elementsOf(parsed: readonly Parsed[]): XmlElement[] {
	return nodesOf(parsed).filter((node): node is XmlElement => typeof node !== 'string');
}
