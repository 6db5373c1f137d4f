import { Dialog as Radix } from 'radix-ui';
import { useRef, type ReactNode } from 'react';

interface Props {
  readonly open: boolean;
  readonly onClose: () => void;
  readonly title: string;
  readonly about: string;
  readonly children: ReactNode;
}

/** A question or a message that comes before all else. The focus goes back to where it was. */
export function Dialog({ open, onClose, title, about, children }: Props) {
  const opener = useRef<Element | null>(null);
  return (
    <Radix.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Radix.Portal>
        <Radix.Overlay className="fixed inset-0 bg-ink/40" />
        <Radix.Content
          onOpenAutoFocus={() => {
            opener.current = document.activeElement;
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            if (opener.current instanceof HTMLElement) opener.current.focus();
          }}
          className="rule-double-top fixed top-[10vh] left-1/2 max-h-[80vh] w-[min(560px,calc(100vw-24px))] -translate-x-1/2 overflow-auto bg-paper p-5 shadow-lg"
        >
          <Radix.Title className="font-serif text-lg font-semibold">{title}</Radix.Title>
          <Radix.Description className="mb-3 text-sm text-ink-2">{about}</Radix.Description>
          {children}
        </Radix.Content>
      </Radix.Portal>
    </Radix.Root>
  );
}
