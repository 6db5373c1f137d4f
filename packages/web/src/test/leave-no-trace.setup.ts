import { cleanup } from '@testing-library/react';
import { afterEach, vi } from 'vitest';

/* Files of tests share a document: a link that one leaves behind is where the Tab key goes in the next. */
afterEach(() => {
  cleanup();
  vi.restoreAllMocks();
});
