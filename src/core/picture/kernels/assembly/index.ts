// The picture kernels: integer maths on planes of bytes, exact to the last bit, 16 pixels at a time.
// Every kernel has a plain TypeScript reference in ../reference.ts that the tests hold it against.
// Memory is laid out by the caller (../../planes.ts), which keeps SLACK bytes after every plane, because
// the loops below load and store whole vectors past the last pixel of a row.

export { blend, multiply } from './blend';
export { cellMeans } from './cells';
export { keyed } from './key';
export { copy, fill, halve, mix, split } from './planes';
export { fromRgba, toRgba } from './rgba';
export { layOut, scale } from './scale';
export { lookUp } from './table';
