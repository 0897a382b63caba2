/** Somebody as they are called: by their address where no name is known. */
export const named = ({ name, address }: { name: string; address: string }): string => name || address;
