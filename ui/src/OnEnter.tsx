import { createContext, type ReactNode, useContext } from 'react';

const Enter = createContext<(() => void) | undefined>(undefined);

/**
 * The form around some fields: Enter in any one-line field that says nothing else does what its button does. `does` is
 * undefined while that button can't be pressed.
 */
export function OnEnter({ does, children }: { does: (() => void) | undefined; children: ReactNode }) {
  return <Enter.Provider value={does}>{children}</Enter.Provider>;
}

export const useEnter = (): (() => void) | undefined => useContext(Enter);
