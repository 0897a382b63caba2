import { type ComponentType, type ReactNode, useEffect, useState } from 'react';

/**
 * A component whose code comes when it is first shown. Not by React's Suspense, which keeps back what has come until
 * 300 ms after it last showed somebody waiting: three parts that come one after the other took a second, whatever the
 * line.
 *
 * @param load Asked again when it failed and the component is shown anew. What it rejects with is thrown when drawn.
 * @param waiting Drawn in its place meanwhile.
 */
export function later<P extends object>(
  load: () => Promise<ComponentType<P>>,
  waiting: (props: P) => ReactNode = () => null,
): ComponentType<P> {
  let come: ComponentType<P> | undefined;
  let coming: Promise<ComponentType<P>> | undefined;
  const fetched = async (): Promise<ComponentType<P>> => {
    try {
      return (come = await (coming ??= load()));
    } catch (error) {
      coming = undefined;
      throw error;
    }
  };
  return function Later(props: P) {
    const [Come, setCome] = useState(() => come);
    const [failed, setFailed] = useState<{ error: unknown } | undefined>();
    useEffect(() => {
      let gone = false;
      if (Come === undefined)
        fetched().then(
          (found) => {
            if (!gone) setCome(() => found);
          },
          (error: unknown) => {
            if (!gone) setFailed({ error });
          },
        );
      return () => {
        gone = true;
      };
    }, [Come]);
    if (failed !== undefined) throw failed.error;
    return Come === undefined ? waiting(props) : <Come {...props} />;
  };
}
