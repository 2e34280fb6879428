import {
  listMoney,
  moneyOutlookOf,
  moneyStatementCsv,
  moneyStatementPdf,
  setAutoTopUp,
  topUp,
  type MoneyEntry,
} from '@long-gate/contracts';
import { formatAmount } from '@long-gate/core';
import { signalStore, withFeature, withMethods, withProps } from '@ngrx/signals';
import { withAddress } from '../../state/area-features/with-address';
import { withBusiness } from '../../state/area-features/with-business';
import { withPages } from '../../state/area-features/with-pages';
import { liveResource } from '../../state/live-resource';

/** The prepaid balance: what it will come to, and every charge, newest first. */
export const MoneyStore = signalStore(
  withBusiness(),
  withAddress(['amount', 'back']),
  withFeature((store) =>
    withPages<MoneyEntry, object>(store, {
      topics: ['settings'],
      id: (e) => e.id,
      size: 60,
      load: (api, _, { businessId, ...query }) => api.call(listMoney, { params: { businessId }, query }),
    }),
  ),
  withProps(({ _api, session }) => ({
    outlook: liveResource(
      ['settings', 'numbers'],
      () => session.businessId() || undefined,
      (businessId) => _api.call(moneyOutlookOf, { params: { businessId } }),
    ),
  })),
  withMethods(({ _api, _at, acting, session, outlook, again }) => ({
    /** @param amount millionths of a dollar. */
    async topUp(amount: number): Promise<boolean> {
      if (!(await acting.did(() => _api.call(topUp, { params: _at(), body: { amount } })))) return false;
      await session.load();
      again();
      acting.done(`The balance is ${formatAmount(session.business()?.balance ?? 0)}.`);
      return true;
    },
    /** Tops up by itself; a limit of 0 for never. @throws ApiProblem */
    async setAuto(body: { below: number; amount: number }): Promise<true> {
      await _api.call(setAutoTopUp, { params: _at(), body });
      outlook.reload();
      acting.done(body.below > 0 ? 'It tops up by itself from now on.' : 'It does not top up by itself any more.');
      return true;
    },
    /** The address of one month's statement. @param month such as `2027-03` */
    statement: (kind: 'csv' | 'pdf', month: string) =>
      _api.address(kind === 'csv' ? moneyStatementCsv : moneyStatementPdf, { params: _at(), query: { month } }),
  })),
);
