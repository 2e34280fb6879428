import type { QueryInterface } from 'sequelize';
import { createTable, big, key, maybe, once, oneOf, refers, text, whole, index } from '../../platform/table.js';

export async function people(qi: QueryInterface): Promise<void> {
  await createTable(qi, 'user', {
    id: key(text()),
    email: once(text()),
    name: text(),
    password: text(),
    mobile: text(''),
    createdAt: big(),
    mobilePending: text(''),
    mobileCode: text(''),
    mobileTries: whole(0),
    factorSecret: text(''),
    factorPending: text(''),
    factorStep: whole(0),
  });
  await createTable(qi, 'membership', {
    userId: refers(key(text()), 'user'),
    businessId: refers(key(text()), 'business'),
    role: oneOf(['administrator', 'coordinator', 'viewer']),
    administratorSince: maybe(big()),
  });
  await createTable(qi, 'session', {
    id: key(text()),
    tokenHash: once(text()),
    userId: refers(text(), 'user'),
    csrf: text(),
    openedWall: big(),
    seenWall: big(),
    expiresWall: big(),
    address: text(),
    agent: text(),
  });
  await index(qi, 'session', 'session_user', ['user_id']);
  await createTable(qi, 'recovery_code', {
    userId: refers(key(text()), 'user'),
    codeHash: key(text()),
    usedWall: maybe(big()),
  });
  await createTable(qi, 'invitation', {
    id: key(text()),
    tokenHash: once(text()),
    businessId: refers(text(), 'business'),
    email: text(),
    role: oneOf(['administrator', 'coordinator', 'viewer']),
    invitedBy: text(),
    invitedAt: big(),
    expiresAt: big(),
    state: oneOf(['open', 'accepted', 'withdrawn'], 'open'),
    sent: whole(1),
    lastKey: text(),
  });
  await index(qi, 'invitation', 'invitation_open', ['business_id', 'email'], { unique: true, where: "state = 'open'" });
  await createTable(qi, 'password_reset', {
    tokenHash: key(text()),
    email: text(),
    expiresWall: big(),
    usedWall: maybe(big()),
  });
}
