import { z } from 'zod';
import { bayEnter, linkLook, linkMeaning, linkUse, passwordChange, pinChange, signIns } from '../people.ts';
import { sessionState, signInRequest } from '../session.ts';
import { setUpRequest } from '../set-up.ts';
import { get, post, put, remove, under } from '../endpoint.ts';

const nothing = z.object({});

export const session = under('session', {
  state: get('/api/session', { summary: 'Who is signed in', needs: 'nothing', answer: sessionState }),
  signIn: post('/api/session', { summary: 'Sign in', needs: 'nothing', body: signInRequest, answer: sessionState }),
  signOut: remove('/api/session', { summary: 'Sign out', needs: 'nothing', answer: sessionState }),
  setUp: post('/api/set-up', {
    summary: 'Set the workshop up',
    needs: 'nothing',
    body: setUpRequest,
    answer: sessionState,
  }),
  lookAtLink: post('/api/links/look', {
    summary: 'Whom a one-time link is for',
    needs: 'nothing',
    body: linkLook,
    answer: linkMeaning,
  }),
  useLink: post('/api/links/use', {
    summary: 'Set a password by a link',
    needs: 'nothing',
    body: linkUse,
    answer: sessionState,
  }),
  changePassword: put('/api/me/password', {
    summary: 'Change one’s own password',
    body: passwordChange,
    answer: nothing,
  }),
  setPin: put('/api/me/pin', { summary: 'Set one’s own PIN', body: pinChange, answer: nothing }),
  signIns: get('/api/me/sign-ins', { summary: 'Where one is signed in', answer: signIns }),
  endSignIn: remove('/api/me/sign-ins/:id', {
    summary: 'End a sign-in of one’s own, or all others',
    params: z.object({ id: z.string().max(100) }),
    answer: signIns,
  }),
  enterBay: post('/api/bay/enter', {
    summary: 'Change over at a bay tablet',
    needs: 'nothing',
    body: bayEnter,
    answer: sessionState,
  }),
  stayAwake: post('/api/bay/awake', { summary: 'Somebody touches the tablet', answer: nothing }),
});
