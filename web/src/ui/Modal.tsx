import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/** A sheet over the screen; Esc and the button close it. Without `onClose` it stands above all else until it is answered. */
export function Modal({
  open,
  onClose,
  title,
  wide,
  children,
}: {
  open: boolean;
  onClose?: (() => void) | undefined;
  title: string;
  wide?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose?.()}>
      <Dialog.Portal>
        <Dialog.Overlay className={`fixed inset-0 bg-[#1d1f21]/40 ${onClose ? 'z-20' : 'z-40'}`} />
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 max-w-[94vw] ${onClose ? 'z-30' : 'z-50'} ${wide ? 'top-12 max-h-[90vh] w-[940px]' : 'top-24 max-h-[80vh] w-[640px]'} -translate-x-1/2 overflow-auto border-t-4 border-paint bg-sheet p-5 text-ink shadow-lg`}
        >
          <Dialog.Title className="mb-3 text-lg font-semibold">{title}</Dialog.Title>
          {children}
          {onClose && (
            <Dialog.Close className="absolute top-3 right-4 underline underline-offset-2">Close (Esc)</Dialog.Close>
          )}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
