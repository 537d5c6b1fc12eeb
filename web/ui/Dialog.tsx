import { Dialog as Modal, DialogPanel, DialogTitle } from '@headlessui/react';
import type { ReactNode } from 'react';

/** Something that is looked at alone, before anything else: over the page, closed by Escape or a click beside it. */
export function Dialog({
  title,
  label,
  open = true,
  onClose,
  atTop = false,
  className,
  children,
}: {
  readonly title?: string;
  /** Its name, where no title is shown. */
  readonly label?: string;
  readonly open?: boolean;
  /** Left out: it stands until one of its buttons is pressed. */
  readonly onClose?: () => void;
  /** Below the upper edge, for what grows while it is used. */
  readonly atTop?: boolean;
  /** Its width. */
  readonly className: string;
  readonly children: ReactNode;
}) {
  const place = atTop ? 'inset-x-0 top-24' : 'inset-0 items-center p-4';
  return (
    <Modal open={open} onClose={onClose ?? (() => undefined)} aria-label={label} className="relative z-40">
      <div className="fixed inset-0 bg-black/30" aria-hidden="true" />
      <div className={`fixed flex justify-center ${place}`}>
        <DialogPanel
          className={`max-h-full max-w-[94vw] overflow-auto rounded-lg border border-rule bg-card shadow-xl ${className}`}
        >
          {title !== undefined && <DialogTitle className="mb-1 text-lg font-semibold">{title}</DialogTitle>}
          {children}
        </DialogPanel>
      </div>
    </Modal>
  );
}
