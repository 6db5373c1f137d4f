export type { Place, Span } from './span.js';
export type { TextEdit } from './text-edit.js';
export { applyEdits } from './text-edit.js';
export { lineStarts, positionAt } from './line-starts.js';
export { nearestWord } from './nearest-word.js';
export { unreachable } from './unreachable.js';
export { globMatcher } from './glob.js';
export { BYTE_ORDER_MARK } from './byte-order-mark.js';
export { ownText } from './own-text.js';
