/** What this browser is called in a list of devices. */
export const deviceName = (): string => {
  const { userAgent } = navigator;
  const browser = /Firefox|Edg|Chrome|Safari/.exec(userAgent)?.[0] ?? 'Browser';
  const system = /Windows|Android|iPhone|iPad|Mac OS|Linux/.exec(userAgent)?.[0] ?? 'unknown system';
  return `${browser === 'Edg' ? 'Edge' : browser} on ${system}`;
};
