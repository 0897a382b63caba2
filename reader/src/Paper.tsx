/**
 * What a printer gets instead of the page: a letter, or the pages of a file; a page that says so where printing is
 * switched off.
 */
import { type Handling } from '@under-lock/core/handling/handling';
import { type MessageContent } from '@under-lock/core/message/content';
import { type Correspondent } from '@under-lock/core/people/address';
import { momentInWords, sizeInWords } from '@under-lock/core/when';
import { useEffect, useState } from 'react';
import { createPortal } from 'react-dom';
import { rightsSentences } from './rights';
import { usePaper } from './use-paper';
import { language, words } from './words/words';
import { zone } from './zone';

const spelled = ({ name, address }: Correspondent): string => (name === '' ? address : `${name} <${address}>`);

function useCleanHtml(html: string): string {
  const [clean, setClean] = useState('');
  useEffect(() => {
    let live = true;
    if (html !== '')
      void import('@under-lock/ui/clean-html').then(({ cleanForPaper }) => live && setClean(cleanForPaper(html)));
    return () => {
      live = false;
    };
  }, [html]);
  return clean;
}

export interface PaperProps {
  content: MessageContent;
  handling: Handling;
  reader: Correspondent;
  officeName: string;
  now: Date;
  /** Pictures of a file's pages, when a file is printed instead of the letter. */
  sheets?: readonly string[] | undefined;
}

export function Paper(props: PaperProps) {
  const paper = usePaper();
  return paper === undefined
    ? null
    : createPortal(props.handling.rights.print ? <Allowed {...props} /> : <Refused />, paper);
}

function Refused() {
  return (
    <>
      <h1>{words.noPaperTitle}</h1>
      <p>{words.noPaper}</p>
    </>
  );
}

function Allowed({ content, handling, reader, officeName, now, sheets }: PaperProps) {
  const html = useCleanHtml(content.html);
  const who = reader.name || reader.address;
  const stamp = words.paperFor(who, momentInWords(now, now, zone, language));
  const rows: [string, string][] = [
    [words.paperFrom, spelled(content.from)],
    ...(content.to.length === 0 ? [] : [[words.to, content.to.map(spelled).join(', ')] as [string, string]]),
    ...(content.cc.length === 0 ? [] : [[words.cc, content.cc.map(spelled).join(', ')] as [string, string]]),
    [words.paperDate, momentInWords(content.date, now, zone, language)],
    ...(content.reference === '' ? [] : [[words.reference, content.reference] as [string, string]]),
    [
      words.paperHandling,
      `${words.paperUntil(momentInWords(handling.closesAt, now, zone, language))} ${rightsSentences(handling).join(' ')}`,
    ],
  ];
  return (
    <>
      {handling.watermark ? <div className="stamp">{stamp}</div> : null}
      {sheets === undefined ? (
        <>
          <p className="office">{`${officeName} · ${stamp}`}</p>
          <h1>{content.subject}</h1>
          <dl>
            {rows.map(([term, value]) => (
              <Pair key={term} term={term} value={value} />
            ))}
          </dl>
          {content.html === '' ? (
            <div className="text plain">{content.text}</div>
          ) : (
            <div className="text" dangerouslySetInnerHTML={{ __html: html }} />
          )}
          {content.files.length === 0 ? null : (
            <>
              <h2>{words.files}</h2>
              <ul className="files">
                {content.files.map((file) => (
                  <li key={file.name}>{`${file.name}, ${sizeInWords(file.bytes.length)}`}</li>
                ))}
              </ul>
            </>
          )}
        </>
      ) : (
        sheets.map((source, index) => <img key={index} className="sheet" src={source} alt="" />)
      )}
    </>
  );
}

const Pair = ({ term, value }: { term: string; value: string }) => (
  <>
    <dt>{term}</dt>
    <dd>{value}</dd>
  </>
);
