import { Injectable } from '@angular/core';
import type { Endpoint } from '@long-gate/contracts';
import type * as z from 'zod';
import { nameOf, Wishes } from './wishes';

/** A refusal of the server, as problem details (RFC 9457). */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: { field: string; message: string }[],
  ) {
    super(message);
    this.name = 'ApiProblem';
  }
  /** What is wrong with one field, or the empty string. */
  of(field: string): string {
    return this.fields.find((f) => f.field === field)?.message ?? '';
  }
}

interface Call<P, Q, B> {
  params?: P;
  query?: Q;
  body?: B;
  /** The version edited, for If-Match. */
  version?: number;
  /** Idempotency key, where the caller has its own; else one is kept until the wish has an answer. */
  key?: string;
}

/** Speaks to the server by the contracts both sides share. */
@Injectable({ providedIn: 'root' })
export class Api {
  csrf = '';
  /**
   * Called where the session of whoever works here has ended, or its token is an old one.
   * @returns whether they are signed in again, so that what was asked is asked once more.
   */
  ended: ((code: 'signed-out' | 'csrf') => Promise<boolean>) | undefined;
  private readonly wishes = new Wishes();

  /** @throws ApiProblem when the server refuses or cannot be reached. */
  async call<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
    endpoint: Endpoint<P, Q, B, R>,
    call: Call<z.input<P>, z.input<Q>, z.input<B>> = {},
  ): Promise<z.output<R>> {
    return (await (await this.fetch(endpoint, call)).json().catch(() => ({}))) as z.output<R>;
  }

  /** The same where the answer is a file. @throws ApiProblem when the server refuses or cannot be reached. */
  async file<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
    endpoint: Endpoint<P, Q, B, R>,
    call: Call<z.input<P>, z.input<Q>, z.input<B>> = {},
  ): Promise<Blob> {
    return (await this.fetch(endpoint, call)).blob();
  }

  /** An answer that is none of a refusal. */
  private async fetch<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
    endpoint: Endpoint<P, Q, B, R>,
    call: Call<z.input<P>, z.input<Q>, z.input<B>>,
    again = false,
  ): Promise<Response> {
    const headers: Record<string, string> = { 'x-csrf-token': this.csrf };
    if (call.version !== undefined) headers['if-match'] = `"${call.version}"`;
    const withBody = endpoint.method !== 'GET';
    if (withBody) headers['content-type'] = 'application/json';
    const wish = endpoint.costs
      ? await nameOf(`${this.address(endpoint, call)} ${JSON.stringify(call.body ?? null)}`)
      : '';
    if (wish) headers['idempotency-key'] = call.key ?? this.wishes.keyOf(wish);
    let response: Response;
    try {
      response = await fetch(this.address(endpoint, call), {
        method: endpoint.method,
        headers,
        body: withBody ? JSON.stringify(call.body ?? {}) : undefined,
      });
    } catch {
      throw new ApiProblem(
        0,
        'offline',
        'The server does not answer. What you typed is kept; try again in a moment.',
        [],
      );
    }
    if (!response.ok) {
      const p = (await response.json().catch(() => ({}))) as {
        code?: string;
        detail?: string;
        fields?: { field: string; message: string }[];
      };
      // Nothing was looked at for want of a session: the wish is as it was, also one that was pressed before.
      const unheard = p.code === 'signed-out' || p.code === 'csrf' ? p.code : null;
      if (unheard && !again && (await this.ended?.(unheard))) return this.fetch(endpoint, call, true);
      // Only a fault leaves open whether it was done: pressed again, it is the same wish.
      if (wish && !unheard && response.status < 500) this.wishes.settled(wish);
      throw new ApiProblem(
        response.status,
        p.code ?? 'fault',
        p.detail ?? 'Something failed. Try again.',
        p.fields ?? [],
      );
    }
    if (wish) this.wishes.settled(wish);
    return response;
  }

  /** What was begun and has no answer belongs to whoever began it. */
  forgetWishes(): void {
    this.wishes.forget();
  }

  /** The address of an endpoint, for links that download. */
  address<P extends z.ZodType, Q extends z.ZodType, B extends z.ZodType, R extends z.ZodType>(
    endpoint: Endpoint<P, Q, B, R>,
    call: { params?: z.input<P>; query?: z.input<Q> } = {},
  ): string {
    const params = (call.params ?? {}) as Record<string, string>;
    const path = endpoint.path.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
    const query = new URLSearchParams();
    for (const [k, v] of Object.entries((call.query ?? {}) as Record<string, string | number | null | undefined>))
      if (v !== undefined && v !== null && v !== '') query.set(k, String(v));
    const tail = query.toString();
    return `/api/v1${path}${tail ? `?${tail}` : ''}`;
  }
}
