import { z } from 'zod';
import {
  bayChallenge,
  bayEnter,
  linkLook,
  linkMeaning,
  linkUse,
  passwordChange,
  pinChange,
  signIns,
} from '../people.ts';
import { sessionState, signInRequest } from '../session.ts';
import { setUpRequest } from '../set-up.ts';
import { get, post, put, remove, under } from '../endpoint.ts';

const nothing = z.object({});

export const session = under('session', {
  state: get('/api/session', { summary: 'Who is signed in', needs: 'nothing', answer: sessionState }),
  signIn: post('/api/session', {
    summary: 'Sign in',
    needs: 'nothing',
    body: signInRequest,
    answer: sessionState,
    errors: ['wrong_sign_in', 'too_many_tries'],
  }),
  signOut: remove('/api/session', { summary: 'Sign out', needs: 'nothing', answer: sessionState }),
  setUp: post('/api/set-up', {
    summary: 'Set the workshop up',
    needs: 'nothing',
    body: setUpRequest,
    answer: sessionState,
    errors: ['set_up_already', 'wrong_code', 'too_many_tries'],
  }),
  lookAtLink: post('/api/links/look', {
    summary: 'Whom a one-time link is for',
    needs: 'nothing',
    body: linkLook,
    answer: linkMeaning,
    errors: ['link_used', 'too_many_tries'],
  }),
  useLink: post('/api/links/use', {
    summary: 'Set a password by a link',
    needs: 'nothing',
    body: linkUse,
    answer: sessionState,
    errors: ['link_used', 'too_many_tries'],
  }),
  changePassword: put('/api/me/password', {
    summary: 'Change one’s own password',
    body: passwordChange,
    answer: nothing,
    errors: ['not_at_tablet', 'too_many_tries'],
  }),
  setPin: put('/api/me/pin', {
    summary: 'Set one’s own PIN',
    body: pinChange,
    answer: nothing,
    errors: ['not_at_tablet', 'too_many_tries'],
  }),
  signIns: get('/api/me/sign-ins', { summary: 'Where one is signed in', answer: signIns }),
  endSignIn: remove('/api/me/sign-ins/:id', {
    summary: 'End a sign-in of one’s own, or all others',
    params: z.object({ id: z.string().max(100) }),
    answer: signIns,
    errors: ['not_at_tablet'],
  }),
  challengeBay: post('/api/bay/challenge', {
    summary: 'What a bay tablet signs for the next change-over',
    needs: 'nothing',
    answer: bayChallenge,
    errors: ['no_tablet', 'tablet_locked'],
  }),
  enterBay: post('/api/bay/enter', {
    summary: 'Change over at a bay tablet',
    needs: 'nothing',
    body: bayEnter,
    answer: sessionState,
    errors: ['no_tablet', 'tablet_locked', 'stale_page', 'wrong_pin', 'too_many_tries'],
  }),
  stayAwake: post('/api/bay/awake', { summary: 'Somebody touches the tablet', answer: nothing }),
});
