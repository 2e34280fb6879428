import type { SimulatedPast } from '@long-gate/gateways';
import type { OutsideStore } from './store.js';

/** Takes over a generated past. What is known already stays as it is, so that telling it twice changes nothing. */
export async function rememberPast(store: OutsideStore, past: SimulatedPast): Promise<void> {
  const json = (rows: unknown): [string] => [JSON.stringify(rows)];
  await store.run(
    `INSERT INTO sold (e164, key) SELECT value->>'e164', value->>'key' FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
    json(past.sold),
  );
  await store.run(
    `INSERT INTO assigned (e164, campaign_key) SELECT value->>'e164', value->>'campaignKey' FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
    json(past.assigned),
  );
  await store.run(
    `INSERT INTO line (e164, line_type, carrier, reachable) SELECT value->>'e164', value->>'lineType', value->>'carrier', value->>'reachable' FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
    json(past.lines),
  );
  await store.run(
    `INSERT INTO given_up (e164, day) SELECT value->>'e164', value->>'day' FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
    json(past.givenUp),
  );
  await store.run(
    `INSERT INTO handset (phone, peer, direction, text, at) SELECT value->>'phone', value->>'peer', value->>'direction', value->>'text', value->>'at' FROM json_each($1) AS h
     WHERE NOT EXISTS (SELECT 1 FROM handset k WHERE k.phone = h.value->>'phone' AND k.at = h.value->>'at' AND k.text = h.value->>'text')`,
    json(past.handset),
  );
  await store.run(
    `INSERT INTO vetted (brand, score) SELECT value->>'brand', value->>'score' FROM json_each($1) WHERE true ON CONFLICT DO NOTHING`,
    json(past.scores),
  );
  for (const o of past.portOuts)
    if (await store.remember(o.key, 'port-out', o.at, o)) await store.schedule(o.at, 'port-out', o);
  await store.run(
    `INSERT INTO bureau_record (e164, body) SELECT n.value->>'e164', r.value FROM json_each($1) AS r, json_each(r.value->'numbers') AS n WHERE true ON CONFLICT DO NOTHING`,
    json(past.records),
  );
}
