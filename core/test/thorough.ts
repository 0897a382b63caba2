/** Whether everything is tried, however long it takes (`npm run thorough`), or as much as fits a run of all tests. */
export const THOROUGH = process.env.UNDERLOCK_THOROUGH === 'yes';
