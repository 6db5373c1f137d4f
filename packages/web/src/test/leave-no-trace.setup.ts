import { cleanup, configure } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

/* Far more than anything takes, also on a machine that others use. */
configure({ asyncUtilTimeout: 120_000 });

/* Files of tests share a document: a link that one leaves behind is where the Tab key goes in the next. */
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});
