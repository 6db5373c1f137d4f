/** Measures of the chart in the package panel in its own units. */
export const LABEL = 128;
export const LENGTH = 306;
const TAIL = 56;
export const WIDTH = LABEL + LENGTH + TAIL;
export const HEAD = 32;
export const LINE = 22;
