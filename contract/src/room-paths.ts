/** Where the reading room's first page asks: it comes before what describes the answers. */
export const LOOK_PATH = '/room/api/grants/:id';
export const PASSCODE_PATH = '/room/api/grants/:id/passcode';
