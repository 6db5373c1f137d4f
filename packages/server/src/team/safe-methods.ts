/** Methods that change nothing (RFC 9110, section 9.2.1). */
export const SAFE_METHODS: ReadonlySet<string> = new Set(['GET', 'HEAD']);
