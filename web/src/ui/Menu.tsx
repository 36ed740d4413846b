import { DropdownMenu } from "radix-ui";
import type { ReactNode, Ref } from "react";
import { Link } from "react-router";

const ITEM =
  "block w-full cursor-pointer rounded-corner px-3 py-1.5 text-left outline-none data-[disabled]:opacity-50 data-[highlighted]:bg-groove pointer-coarse:py-3";

/** A list of places and actions behind one button. */
export function Menu({
  label,
  name,
  align = "end",
  className = "",
  trigger,
  children,
}: {
  label: ReactNode;
  /** What it is called, where that is more than its label. */
  name?: string;
  align?: "start" | "end";
  className?: string;
  /** Its key, for whoever gives it the focus. */
  trigger?: Ref<HTMLButtonElement>;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        ref={trigger}
        aria-label={name}
        className={`inline-flex h-8 min-w-0 items-center gap-1.5 rounded-corner px-2 font-medium hover:bg-groove pointer-coarse:h-11 ${className}`}
      >
        <span className="truncate">{label}</span>
        <span aria-hidden="true" className="text-soft">
          ▾
        </span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align={align}
          sideOffset={2}
          className="z-50 max-h-[80vh] min-w-48 max-w-[92vw] overflow-auto rounded-corner border border-edge bg-sheet p-1"
        >
          {children}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

/** A place to go to. */
export function MenuLink({ to, children }: { to: string; children: ReactNode }) {
  return (
    <DropdownMenu.Item asChild>
      <Link to={to} className={ITEM}>
        {children}
      </Link>
    </DropdownMenu.Item>
  );
}

/** A paper to look at, beside this page. */
export function MenuPaper({
  href,
  disabled = false,
  children,
}: {
  href: string;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Item asChild disabled={disabled}>
      <a href={disabled ? undefined : href} target="_blank" rel="noreferrer" className={ITEM}>
        {children}
      </a>
    </DropdownMenu.Item>
  );
}

/** A file to keep. */
export function MenuDownload({
  href,
  name,
  disabled = false,
  children,
}: {
  href: string;
  name: string;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Item asChild disabled={disabled}>
      <a href={disabled ? undefined : href} download={name} className={ITEM}>
        {children}
      </a>
    </DropdownMenu.Item>
  );
}

/** Something to do. */
export function MenuButton({
  onChoose,
  disabled = false,
  children,
}: {
  onChoose: () => void;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <DropdownMenu.Item className={ITEM} disabled={disabled} onSelect={onChoose}>
      {children}
    </DropdownMenu.Item>
  );
}
