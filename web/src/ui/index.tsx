import { Dialog as RadixDialog } from "radix-ui";
import { type ComponentProps, type ReactNode, useRef } from "react";

const BUTTONS = {
  solid: "bg-ink text-sheet hover:opacity-90",
  plain: "border border-edge bg-sheet hover:border-soft",
  quiet: "hover:bg-groove",
  danger: "bg-madder text-sheet hover:opacity-90",
};

export function Button({
  kind = "plain",
  small = false,
  busy = false,
  className = "",
  ...rest
}: ComponentProps<"button"> & {
  kind?: keyof typeof BUTTONS;
  small?: boolean;
  /** What it asked for is under way: it does nothing, and keeps the focus, which a disabled one would lose. */
  busy?: boolean;
}) {
  return (
    <button
      type="button"
      {...rest}
      {...(busy && { "aria-disabled": true, onClick: (event) => event.preventDefault() })}
      className={`inline-flex items-center gap-1.5 rounded-corner font-medium disabled:opacity-50 aria-disabled:opacity-50 ${small ? "h-6.5 px-1.5" : "h-8 px-3"} ${BUTTONS[kind]} ${className}`}
    />
  );
}

export function Field({
  label,
  hint,
  error,
  id,
  children,
}: {
  label: string;
  hint?: string;
  error?: string;
  id: string;
  children: ReactNode;
}) {
  return (
    <div className="flex min-w-0 flex-col gap-1">
      <label htmlFor={id} className="font-medium">
        {label}
      </label>
      {children}
      {hint && !error && <p className="text-soft text-data">{hint}</p>}
      {error && (
        <p id={`${id}-error`} role="alert" className="max-w-64 text-madder text-data">
          {error}
        </p>
      )}
    </div>
  );
}

export function TextInput({ className = "", ...rest }: ComponentProps<"input">) {
  return (
    <input
      {...rest}
      className={`h-8 max-w-full rounded-corner border border-edge bg-sheet px-2 placeholder:text-soft aria-[invalid=true]:border-madder ${className}`}
    />
  );
}

export function Dialog({
  open,
  onClose,
  title,
  children,
  wide = false,
  onClosed,
}: {
  open: boolean;
  onClose: () => void;
  title: string;
  children: ReactNode;
  wide?: boolean;
  /** Prevent the event to keep the focus from going back to where it was. */
  onClosed?: (event: Event) => void;
}) {
  const opener = useRef<Element | null>(null);
  return (
    <RadixDialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <RadixDialog.Portal>
        <RadixDialog.Overlay className="fixed inset-0 z-40 bg-black/40" />
        <RadixDialog.Content
          aria-describedby={undefined}
          onOpenAutoFocus={() => {
            opener.current = document.activeElement;
          }}
          onCloseAutoFocus={(event) => {
            onClosed?.(event);
            if (event.defaultPrevented) return;
            event.preventDefault();
            const back = opener.current;
            // What opened it may be gone, or was a key: then the work goes on.
            if (back instanceof HTMLElement && back.isConnected && back !== document.body) {
              back.focus();
            } else focusWork();
          }}
          className={`fixed top-1/2 left-1/2 z-50 max-h-[88vh] w-[92vw] ${wide ? "max-w-3xl" : "max-w-lg"} -translate-x-1/2 -translate-y-1/2 overflow-auto rounded-corner border border-line bg-paper p-5`}
        >
          <RadixDialog.Title className="mr-8 mb-3 ">{title}</RadixDialog.Title>
          {children}
          {/* Last, so that a dialog opens at its first field. */}
          <RadixDialog.Close
            aria-label="Close"
            className="absolute top-3 right-3 size-8 rounded-corner text-soft hover:bg-groove"
          >
            ×
          </RadixDialog.Close>
        </RadixDialog.Content>
      </RadixDialog.Portal>
    </RadixDialog.Root>
  );
}

/** Put the focus on the page's work, where nothing smaller asks for it. */
export function focusWork(): void {
  const work = document.querySelector("main");
  if (!work) return;
  work.tabIndex = -1;
  work.focus({ preventScroll: true });
}

/** A table that is wider than the window goes sideways in itself; the page does not. */
export function Sideways({ children }: { children: ReactNode }) {
  return <div className="relative overflow-x-auto wide:overflow-visible">{children}</div>;
}
