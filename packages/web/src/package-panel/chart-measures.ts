/** Measures of the chart in the package panel in its own units. */
export const LABEL = 128;
export const LENGTH = 306;
/** Ranges stand in a column of their own, where nothing can lie over them. */
export const RANGES = LABEL + LENGTH + 14;
const TAIL = 134;
export const WIDTH = LABEL + LENGTH + TAIL;
export const HEAD = 32;
export const LINE = 22;
