import type { WorkRole } from "~/api/client";

/** What each role is called, and what it does, as the server holds it (accounts.permissions). */
export const ROLES: Record<WorkRole, { label: string; does: string }> = {
  owner: { label: "Owner", does: "does everything, and says who works here." },
  consultant: { label: "Consultant", does: "changes cases, recipes and plans, and issues them." },
  assistant: {
    label: "Assistant",
    does: "reads everything, logs, weighs and cooks; changes no case and no recipe.",
  },
};

export const ROLE_OPTIONS = (["owner", "consultant", "assistant"] as const).map((id) => ({
  id,
  label: ROLES[id].label,
}));
