declare module 'slot-built' {
  import { type BuiltSlot } from './built';

  const built: BuiltSlot;
  export default built;
}
