import { ask, mayComeLater } from "../api/client";

const TRIES = 10;
const SECONDS = 1;

/** Ask what may be asked twice until it is answered: a store that is busy, or a server that is away, is soon back. */
export async function patiently<T>(call: () => Parameters<typeof ask<T>>[0]): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await ask(call());
    } catch (error) {
      if (tries === TRIES || !mayComeLater(error)) throw error;
      await new Promise((done) => setTimeout(done, SECONDS * 1000));
    }
  }
}
