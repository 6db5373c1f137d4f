/** The mark that some editors put before the first character of a file. None of our formats has it. */
export const BYTE_ORDER_MARK = '\uFEFF';
