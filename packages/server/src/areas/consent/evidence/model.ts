import { ASKERS, type Asker } from '@long-gate/contracts';
import { Model, type CreationOptional, type InferAttributes, type InferCreationAttributes } from 'sequelize';
import { z } from 'zod';
import { big, bytes, json, key, maybe, oneOf, refers, table, text, whole } from '../../../platform/table.js';

const Numbers = z.array(z.string());

/** Somebody who asks for proof of consent: who, about which numbers, by when, and how they were answered. */
export class EvidenceRequestModel extends Model<
  InferAttributes<EvidenceRequestModel>,
  InferCreationAttributes<EvidenceRequestModel>
> {
  declare id: string;
  declare businessId: string;
  declare asker: Asker;
  declare who: string;
  declare reference: string;
  declare question: string;
  /** `YYYY-MM-DD` where the business is. */
  declare dueOn: CreationOptional<string | null>;
  /** E.164; what stands in the place of a number whose owner was erased. */
  declare numbers: z.output<typeof Numbers>;
  declare askedAt: number;
  declare askedBy: string;
  declare answeredAt: CreationOptional<number | null>;
  declare answeredBy: CreationOptional<string>;
  declare answer: CreationOptional<string>;
  declare version: CreationOptional<number>;
}
export const evidenceRequestTable = table(
  EvidenceRequestModel,
  'evidence_request',
  {
    id: key(text()),
    businessId: refers(text(), 'business'),
    asker: oneOf([...ASKERS]),
    who: text(),
    reference: text(),
    question: text(),
    dueOn: maybe(text()),
    numbers: json('numbers', Numbers),
    askedAt: big(),
    askedBy: text(),
    answeredAt: maybe(big()),
    answeredBy: text(''),
    answer: text(''),
    version: whole(1),
  },
  {
    open: { where: { answeredAt: null } },
  },
);

/** An evidence pack that was made for a request. The archive is a file in the data folder, named by its id. */
export class EvidencePackModel extends Model<
  InferAttributes<EvidencePackModel>,
  InferCreationAttributes<EvidencePackModel>
> {
  declare id: string;
  declare businessId: string;
  declare requestId: string;
  declare state: CreationOptional<'making' | 'ready' | 'failed' | 'gone'>;
  declare jobId: string;
  declare madeAt: number;
  declare madeBy: string;
  declare size: CreationOptional<number>;
  declare sha256: CreationOptional<string>;
  declare events: CreationOptional<number>;
  declare texts: CreationOptional<number>;
  declare keptUntil: number;
}
export const evidencePackTable = table(EvidencePackModel, 'evidence_pack', {
  id: key(text()),
  businessId: refers(text(), 'business'),
  requestId: refers(text(), 'evidence_request'),
  state: oneOf(['making', 'ready', 'failed', 'gone'], 'making'),
  jobId: text(),
  madeAt: big(),
  madeBy: text(),
  size: whole(0),
  sha256: text(''),
  events: whole(0),
  texts: whole(0),
  keptUntil: big(),
});

/** Some of a ledger's digests, as they were when its events were found whole, with our signature. */
export class ChainStretchModel extends Model<
  InferAttributes<ChainStretchModel>,
  InferCreationAttributes<ChainStretchModel>
> {
  declare businessId: string;
  /** The event before it; 0 where it begins the chain. */
  declare afterSeq: number;
  declare lastSeq: number;
  declare hashBefore: string;
  declare lastHash: string;
  /** A line for each event, and eight bytes that mark its number, see `chainLines`. */
  declare digests: Buffer;
  declare marks: Buffer;
  /** Ed25519 over all of the above. */
  declare signature: Buffer;
}
export const chainStretchTable = table(ChainStretchModel, 'chain_stretch', {
  businessId: key(refers(text(), 'business')),
  afterSeq: key(big()),
  lastSeq: big(),
  hashBefore: text(),
  lastHash: text(),
  digests: bytes(),
  marks: bytes(),
  signature: bytes(),
});
