import { Type } from 'typebox';
import { Nothing } from '../../../contract/api/common.ts';
import { CauseView, MailAway, MessageSetup, MessageSetupAnswer, TestMail } from '../../../contract/api/messages.ts';
import type { Shop } from '../../shop.ts';
import { awayList } from '../../usecases/away/simulateAway.ts';
import { messageSetup, setMessageSetup } from '../../usecases/messages/messageSetup.ts';
import { causeViews, seenCause } from '../../usecases/messages/messageWatch.ts';
import { type Outgoing, mailNow } from '../../usecases/messages/outbox.ts';
import { type Route, route } from '../route.ts';

/** Who is told when it goes wrong. */
export function messageRoutes(shop: Shop, outgoing: Outgoing, standInUrl: () => string | null): Route[] {
  return [
    route({
      method: 'get',
      path: '/api/messages',
      needs: 'see',
      summary: 'What people were told of lately, newest first, and what became of each message',
      answer: Type.Array(CauseView),
      handle: () => causeViews(shop),
    }),
    route({
      method: 'post',
      path: '/api/messages/:id/seen',
      needs: 'operate',
      summary: 'A person has seen it: nobody is told of it again',
      answer: Nothing,
      handle: ({ params, actor }) => {
        seenCause(shop, params.id ?? '', actor);
      },
    }),
    route({
      method: 'get',
      path: '/api/message-setup',
      needs: 'set up',
      summary: 'Who is told of what, and by which ways',
      answer: MessageSetupAnswer,
      handle: () => messageSetup(shop, standInUrl()),
    }),
    route({
      method: 'put',
      path: '/api/message-setup',
      needs: 'set up',
      summary: 'Sets who is told of what; programs that are new are answered with their secret, once',
      body: MessageSetup,
      answer: MessageSetupAnswer,
      handle: ({ body, actor }) => {
        const secrets = setMessageSetup(shop, body, actor);
        const now = messageSetup(shop, standInUrl());
        const told = now.webhooks.map((hook) => {
          const secret = secrets[hook.url];
          return secret === undefined ? hook : { ...hook, secret };
        });
        return { ...now, webhooks: told };
      },
    }),
    route({
      method: 'post',
      path: '/api/message-setup/test',
      needs: 'set up',
      summary: 'Sends a mail to an address, to see whether the mail server takes it',
      body: TestMail,
      answer: Nothing,
      heavy: 'Sending the mail',
      handle: async ({ body }) => {
        const text = 'Yellow Spool can send mail to this address.\n';
        await mailNow(shop, outgoing, { to: body.to, subject: 'Yellow Spool: a test', text });
      },
    }),
    route({
      method: 'post',
      path: '/api/away/mail',
      needs: 'coordinate',
      summary: 'Sends the list of a time away as one page for the phone',
      body: MailAway,
      answer: Nothing,
      heavy: 'Sending the list',
      handle: async ({ body: { to, ...period }, how }) => {
        const link = outgoing.pages === undefined ? null : `${outgoing.pages}/rota/away`;
        const html = await awayList(shop, period, how, link);
        await mailNow(shop, outgoing, {
          to,
          subject: 'Away plan',
          text: 'This list is a page: open it as HTML.\n',
          html,
        });
      },
    }),
  ];
}
