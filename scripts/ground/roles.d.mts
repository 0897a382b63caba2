export interface Roles {
  owner: { name: string; password: string };
  server: { name: string; password: string };
}
export function rolesIn(file: string, prefix?: string): Roles;
export function ensureRoles(
  superuserUrl: string,
  roles: Roles,
): Promise<{ ownerUrl: string; serverUrl: string; running: string }>;
