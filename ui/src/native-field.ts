import { type CSSProperties } from 'react';
import { border, colour, radius, space, type } from './tokens';

/** A field that the browser draws, looking like those that we draw. */
export const nativeField: CSSProperties = {
  ...type.body,
  lineHeight: '24px',
  fontSize: 16,
  boxSizing: 'border-box',
  width: '100%',
  minWidth: 0,
  minHeight: space.touch,
  padding: `0 ${space.m}px`,
  color: colour.ink,
  background: colour.paper,
  border: `${border.hair}px solid ${colour.edge}`,
  borderRadius: radius.m,
};
