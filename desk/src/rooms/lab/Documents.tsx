import { useState } from "react";
import styled from "styled-components";
import { http, told } from "../../api/client";
import type { DocumentsRow } from "../../api/lab";
import { Plain } from "../../kit/controls";
import { brick, card, line, ochre, quiet, spruce } from "../../kit/tokens";
import { bytesWords, many } from "../../kit/words";
import { kindsOf, kindsWords } from "./AskDocuments";

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
    <Bar aria-label="Documents">
      <div>
        <h2>Documents</h2>
      </div>
      <ul>
        {documents.slice(0, all ? undefined : LONG_AGO).map((one) => (
          <Asked key={one.id} one={one} kinds={kinds} write={write} again={again} />
        ))}
      </ul>
      {before > 0 && (
        <div>
          <Plain onPress={() => showAll(!all)}>{all ? "The newest only" : `And ${before} before`}</Plain>
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
      <b>Documents {one.number}</b>
      <p>
        {many(one.documents.shots.length, "shot")}: {kindsWords(kindsOf(one.documents, kinds))}
        {going && (
          <>
            , {one.doing.toLowerCase()}{" "}
            <progress aria-label={`How far documents ${one.number} are`} max={1} value={one.progress} />
          </>
        )}
        {one.state === "cancelled" && ", cancelled"}
        {one.stale && !going && <span className="mind"> · changed since they were made</span>}
        {one.trouble && <span className="why"> · {one.trouble}</span>}
      </p>
      <span className="acts">
        {going && (
          <Plain onPress={() => write(() => told(http.POST("/api/documents/{key}/cancel", path)))}>Cancel</Plain>
        )}
        {!going && (
          <Plain onPress={() => write(() => told(http.POST("/api/documents/{key}/again", path)))}>
            {one.state === "done" ? "Make anew" : "Try again"}
          </Plain>
        )}
        <Plain onPress={() => again(one.documents)}>Others like these…</Plain>
        {!going && (
          <Plain onPress={() => write(() => told(http.DELETE("/api/documents/{key}", path)))}>Throw away</Plain>
        )}
      </span>
      {one.files.length > 0 && (
        <ul className="files" aria-label={`Files of documents ${one.number}`}>
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
                All in a folder, ZIP
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
