import { fileRulesSchema } from '@under-lock/core/locks/file/rules';
import { endpoint } from './endpoint';

/** What the office says about locked files. Exceptions name whom it writes to, so only its people see them. */
export const getFileRules = endpoint({
  method: 'GET',
  path: '/api/office/locked-files',
  access: 'worker',
  byDoor: true,
  reply: fileRulesSchema,
});
/** @see invalid-input naming the part that can't be used */
export const putFileRules = endpoint({
  method: 'PUT',
  path: '/api/office/locked-files',
  access: 'administrator',
  maxBytes: 500_000,
  body: fileRulesSchema,
});
