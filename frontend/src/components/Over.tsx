import { Dialog } from "radix-ui";
import { useEffect, type ReactNode } from "react";

interface Props {
  open: boolean;
  onOpen: (open: boolean) => void;
  className: string;
  children: ReactNode;
}

/** A sheet over the room, which is dimmed meanwhile; Escape puts it away. */
export function Over({ open, onOpen, className, children }: Props) {
  return (
    <Dialog.Root open={open} onOpenChange={onOpen} modal={false}>
      <Dialog.Portal>
        {open && <div aria-hidden="true" className="fixed inset-0 z-40 bg-ink/25" />}
        <Dialog.Content
          aria-describedby={undefined}
          className={`fixed left-1/2 z-50 -translate-x-1/2 border border-ink bg-sheet ${className}`}
        >
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** What a key does anywhere in the window. */
export function useKey(onKey: (event: KeyboardEvent) => void): void {
  useEffect(() => {
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [onKey]);
}
