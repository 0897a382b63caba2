/** Where a slot's page asks, apart from what is asked: its small script needs no more. */
export const slotPaths = {
  look: '/slot/api/slots/:token',
  code: '/slot/api/slots/:token/code',
  begin: '/slot/api/slots/:token/begin',
  left: '/slot/api/left/:ticket',
  part: '/slot/api/left/:ticket/parts/:index',
} as const;
