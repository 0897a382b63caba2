export function pathsNamed(root: string, paths: readonly string[]): string;
