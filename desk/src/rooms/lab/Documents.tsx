import { useState } from "react";
import styled from "styled-components";
import { http, answerOf } from "../../api/client";
import type { DocumentsRow } from "../../api/lab";
import { Plain } from "../../kit/controls";
import { brick, card, line, ochre, quiet, spruce } from "../../kit/tokens";
import { bytesWords } from "../../kit/words";
import { kindsOf, kindsWords } from "./AskDocuments";
import { text } from "../../text";

const Bar = styled.section`
  background: ${card};
  border-radius: 3px;
  padding: 12px 16px;
  margin-bottom: 20px;
  display: grid;
  gap: 8px;
  > div {
    display: flex;
    gap: 14px;
    align-items: baseline;
  }
  h2 {
    font-weight: 650;
    font-size: 15px;
  }
  > div > span {
    color: ${quiet};
  }
  > ul {
    list-style: none;
    margin: 0;
    padding: 0;
    display: grid;
    gap: 6px;
  }
`;
const One = styled.li`
  display: grid;
  grid-template-columns: 100px minmax(0, 1fr) auto;
  gap: 4px 14px;
  align-items: baseline;
  border-top: 1px solid ${line};
  padding-top: 5px;
  p {
    color: ${quiet};
  }
  progress {
    width: 180px;
    height: 6px;
    accent-color: ${spruce};
    margin-left: 10px;
  }
  .acts {
    display: flex;
    gap: 2px;
  }
  .files {
    grid-column: 2 / -1;
    list-style: none;
    margin: 0;
    padding: 0;
    display: flex;
    flex-wrap: wrap;
    gap: 2px 16px;
  }
  a {
    color: ${spruce};
    font-weight: 600;
  }
  small {
    color: ${quiet};
    font-size: 12px;
    margin-left: 5px;
  }
  .mind {
    color: ${ochre};
  }
  .why {
    color: ${brick};
  }
`;

const LONG_AGO = 4;

interface Props {
  documents: DocumentsRow[];
  kinds: Parameters<typeof kindsOf>[1];
  write: (action: () => Promise<unknown>) => void;
  again: (documents: DocumentsRow["documents"]) => void;
}

/** Documents that were asked for, how far they are, their files one by one and all in a folder. */
export function Documents({ documents, kinds, write, again }: Props) {
  const [all, showAll] = useState(false);
  if (documents.length === 0) return null;
  const before = documents.length - LONG_AGO;
  return (
    <Bar aria-label={text.lab.documents}>
      <div>
        <h2>{text.lab.documents}</h2>
      </div>
      <ul>
        {documents.slice(0, all ? undefined : LONG_AGO).map((one) => (
          <Asked key={one.id} one={one} kinds={kinds} write={write} again={again} />
        ))}
      </ul>
      {before > 0 && (
        <div>
          <Plain onPress={() => showAll(!all)}>{all ? text.lab.theNewestOnly : text.lab.andBefore(before)}</Plain>
        </div>
      )}
    </Bar>
  );
}

function Asked({ one, kinds, write, again }: { one: DocumentsRow } & Omit<Props, "documents">) {
  const path = { params: { path: { key: one.id } } };
  const going = one.state === "waiting" || one.state === "making";
  return (
    <One data-documents={one.number} data-state={one.state}>
      <b>{text.lab.documentsOf(one.number)}</b>
      <p>
        {text.counts.shot(one.documents.shots.length)}: {kindsWords(kindsOf(one.documents, kinds))}
        {going && (
          <>
            , {one.doing.toLowerCase()}{" "}
            <progress aria-label={text.lab.howFarDocumentsAre(one.number)} max={1} value={one.progress} />
          </>
        )}
        {one.state === "cancelled" && `, ${text.frame.cancelled}`}
        {one.stale && !going && <span className="mind"> · {text.lab.changedSinceTheyWereMade}</span>}
        {one.trouble && <span className="why"> · {one.trouble}</span>}
      </p>
      <span className="acts">
        {going && (
          <Plain onPress={() => write(() => answerOf(http.POST("/api/documents/{key}/cancel", path)))}>
            {text.everywhere.cancel}
          </Plain>
        )}
        {!going && (
          <Plain onPress={() => write(() => answerOf(http.POST("/api/documents/{key}/again", path)))}>
            {one.state === "done" ? text.lab.makeAnew : text.lab.tryAgain}
          </Plain>
        )}
        <Plain onPress={() => again(one.documents)}>{text.lab.othersLikeThese}</Plain>
        {!going && (
          <Plain onPress={() => write(() => answerOf(http.DELETE("/api/documents/{key}", path)))}>
            {text.lab.throwAway}
          </Plain>
        )}
      </span>
      {one.files.length > 0 && (
        <ul className="files" aria-label={text.lab.filesOfDocuments(one.number)}>
          {one.files.map(({ name, short, address, bytes }) => (
            <li key={name}>
              <a href={address} download>
                {short}
              </a>
              <small>{bytesWords(bytes)}</small>
            </li>
          ))}
          {one.folder && one.files.length > 1 && (
            <li>
              <a href={one.folder} download>
                {text.lab.allInAFolder}
              </a>
            </li>
          )}
        </ul>
      )}
      {one.words.length > 0 && (
        <div className="files">
          {one.words.map((words) => (
            <small key={words} className="mind">
              {words}
            </small>
          ))}
        </div>
      )}
    </One>
  );
}
