import { Doing } from "../kit/settled";
import { tellAway } from "./away";
import type { News } from "./news";
import type {
  Back,
  BeyondAnswer,
  LiveAnswer,
  LiveQuestion,
  ScoutAnswer,
  Shot,
  ShotAnswer,
  ShotGesture,
  Scout,
  ViewGesture,
  WhatIfAnswer,
} from "./client";
import { text } from "../text";

const KINDS = ["shot", "scout", "what_if"] as const;
type Kind = (typeof KINDS)[number];
type Question = Extract<LiveQuestion, { kind: Kind }>;
type Listener = {
  shot?: (a: ShotAnswer) => void;
  beyond?: (a: BeyondAnswer) => void;
  scout?: (a: ScoutAnswer) => void;
  what_if?: (a: WhatIfAnswer) => void;
  trouble?: (words: string) => void;
  news?: (news: News) => void;
  open?: (is: boolean) => void;
};

/** Where the scout view is; else the shot it begins with, or nothing where all of the set is to be seen. */
export interface Begun {
  scout?: Scout;
  shot?: Shot;
}

/**
 * The live socket. One question of a kind is under way at a time and the newest waits; an answer that is
 * older than one already shown is dropped.
 */
export class Live {
  private socket: WebSocket | null = null;
  private seq = 0;
  private project: string | null = null;
  private under: Record<Kind, number | null> = { shot: null, scout: null, what_if: null };
  private next: Partial<Record<Kind, Question>> = {};
  private listeners = new Set<Listener>();
  private closed = false;
  private missed = 0;
  private readonly asking = new Doing();

  connect() {
    this.closed = false;
    const scheme = window.location.protocol === "https:" ? "wss" : "ws";
    const socket = new WebSocket(`${scheme}://${window.location.host}/api/live`);
    this.socket = socket;
    socket.onopen = () => {
      this.under = { shot: null, scout: null, what_if: null };
      if (this.project) this.send({ kind: "open", project: this.project });
      window.clearTimeout(this.missed);
      this.missed = 0;
      tellAway(null);
      this.listeners.forEach((l) => l.open?.(true));
      KINDS.forEach((kind) => this.flush(kind));
      this.count();
    };
    socket.onmessage = (event) => this.hear(JSON.parse(String(event.data)) as LiveAnswer);
    socket.onclose = () => {
      if (this.socket === socket) this.socket = null;
      this.listeners.forEach((l) => l.open?.(false));
      if (!this.closed && !this.missed)
        this.missed = window.setTimeout(() => tellAway(text.server.theServerDoesNotAnswer), 2500);
      if (!this.closed)
        window.setTimeout(() => {
          if (!this.closed) this.connect();
        }, 700);
    };
  }

  close() {
    this.closed = true;
    this.socket?.close();
    this.socket = null;
    this.asking.on = false;
  }

  listen(listener: Listener): () => void {
    this.listeners.add(listener);
    return () => {
      this.listeners.delete(listener);
    };
  }

  open(project: string) {
    this.project = project;
    if (this.socket?.readyState === WebSocket.OPEN) this.send({ kind: "open", project });
  }

  askShot(shot: Shot, gesture: ShotGesture | null = null, beyond = false) {
    this.ask({ kind: "shot", seq: ++this.seq, shot, gesture, beyond });
  }

  /** What a gesture would make of a shot; nothing comes of it. */
  askWhatIf(shot: Shot, gesture: ShotGesture) {
    this.ask({ kind: "what_if", seq: ++this.seq, shot, gesture });
  }

  askScout(begun: Begun, ratio: number, back: Back | null, gesture: ViewGesture | null = null, anchor = false) {
    this.ask({
      kind: "scout",
      seq: ++this.seq,
      scout: begun.scout ?? null,
      shot: begun.shot ?? null,
      ratio,
      back,
      gesture,
      anchor,
    });
  }

  /** Forget what was asked so far: answers to it are not shown any more. */
  forget(kind: Kind) {
    this.next[kind] = undefined;
    this.under[kind] = null;
    this.count();
  }

  private ask(question: Question) {
    this.next[question.kind] = question;
    this.flush(question.kind);
    this.count();
  }

  private flush(kind: Kind) {
    const question = this.next[kind];
    if (!question || this.under[kind] !== null || this.socket?.readyState !== WebSocket.OPEN) return;
    this.next[kind] = undefined;
    this.under[kind] = question.seq;
    this.send(question);
  }

  private send(message: LiveQuestion) {
    this.socket?.send(JSON.stringify(message));
  }

  /** Questions are under way while one waits for its answer or for its turn. */
  private count() {
    this.asking.on = KINDS.some((kind) => this.under[kind] !== null || this.next[kind] !== undefined);
  }

  private hear(answer: LiveAnswer) {
    if (answer.kind === "news") this.listeners.forEach((l) => l.news?.(answer));
    else if (answer.kind === "beyond") this.listeners.forEach((l) => l.beyond?.(answer));
    else if (answer.kind === "trouble") {
      // The trouble of one question leaves those of another kind as they are.
      const kind = KINDS.find((k) => answer.seq !== null && this.under[k] === answer.seq);
      if (kind) this.under[kind] = null;
      this.listeners.forEach((l) => l.trouble?.(answer.detail));
      if (kind) this.flush(kind);
    } else if (answer.kind === "shot" || answer.kind === "scout" || answer.kind === "what_if") {
      const current = this.under[answer.kind] === answer.seq;
      if (!current) return;
      this.under[answer.kind] = null;
      this.listeners.forEach((l) => {
        if (answer.kind === "shot") l.shot?.(answer);
        else if (answer.kind === "scout") l.scout?.(answer);
        else l.what_if?.(answer);
      });
      this.flush(answer.kind);
    }
    this.count();
  }
}
