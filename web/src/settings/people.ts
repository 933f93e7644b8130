import type { Role } from "../api/types";

/** What a role is called, and what it means to whoever has it. */
export const ROLES: Record<Role, { name: string; about: string }> = {
  owner: { name: "runs this installation", about: "You run this installation, and invite the others." },
  photographer: { name: "photographer", about: "What you make here is yours alone until you share it." },
  viewer: { name: "looks on", about: "You see what others share with you." },
};
