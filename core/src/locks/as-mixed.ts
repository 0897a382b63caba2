import { type Bytes, concat, utf8 } from '../bytes';
import { type Entity, withoutFields } from '../message/entity';

/** A multipart that claims something of its parts which does not hold: the same parts, without the claim. */
export function asMixed(entity: Pick<Entity, 'fields' | 'body' | 'contentType'>): Bytes {
  const boundary = (entity.contentType.parameters.get('boundary') ?? '').replace(/["\\]/g, '\\$&');
  const rest = withoutFields(entity as Entity, (name) => name === 'content-type');
  return concat(rest, utf8(`Content-Type: multipart/mixed; boundary="${boundary}"\r\n\r\n`), entity.body);
}
