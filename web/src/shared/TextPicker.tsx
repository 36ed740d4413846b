import { useQuery } from "@tanstack/react-query";
import { api, take } from "~/api/client";
import { keyOf } from "~/shared/keys";
import { Menu, MenuButton, MenuLink } from "~/ui/Menu";

/** A text of the practice, filled for whom it is about, put into what is written. */
export function TextPicker({
  of,
  onText,
}: {
  of: { case?: number; client?: number };
  onText: (text: string) => void;
}) {
  const found = useQuery({
    queryKey: keyOf("texts", of),
    queryFn: () => take(api.GET("/api/texts", { params: { query: of } })),
  });
  const texts = found.data ?? [];
  return (
    <Menu label="Your texts" align="start" className="border border-edge">
      {texts.map((t) => (
        <MenuButton key={t.id} onChoose={() => onText(t.filled)}>
          {t.name}
        </MenuButton>
      ))}
      {found.error && <p className="px-3 py-1.5 text-madder">{found.error.message}</p>}
      <MenuLink to="/practice#texts">
        {texts.length === 0 ? "None yet: write one" : "Change them"}
      </MenuLink>
    </Menu>
  );
}

/** A text put behind what stands there already. */
export function appended(before: string, text: string): string {
  return before.trim() === "" ? text : `${before.trimEnd()}\n\n${text}`;
}
