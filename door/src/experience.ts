import {
  fitLife,
  logLikelihood,
  type CleanLook,
  type Observation,
  lifePosterior,
  predictiveRisk,
  type Moments,
} from '@crosspeen/core';
import { asArray, asNumber, asObject, asText, DoorError, field, optional, type Call, type Json } from './json.ts';

const lookOf = (value: Json): CleanLook => {
  const look = asObject(value, 'insp');
  return {
    at: asNumber(field(look, 'x'), 'insp.x'),
    detection: asNumber(field(look, 'r'), 'insp.r'),
    warning: asNumber(field(look, 'L'), 'insp.L'),
  };
};

function observationOf(value: Json): Observation {
  const given = asObject(value, 'obs');
  const number = (name: string): number => asNumber(field(given, name), `obs.${name}`);
  const [entry, count] = [optional(given, 'entry'), optional(given, 'n')];
  const common = {
    at: number('x'),
    looks: asArray(optional(given, 'insp') ?? [], 'obs.insp').map(lookOf),
    ...(entry === undefined ? {} : { entry: asNumber(entry, 'obs.entry') }),
    ...(count === undefined ? {} : { count: asNumber(count, 'obs.n') }),
  };
  const kind = asText(field(given, 'kind'), 'obs.kind');
  switch (kind) {
    case 'exact':
    case 'right':
      return { kind, ...common };
    case 'interval':
      return { kind, ...common, until: number('x2') };
    case 'worn':
      return { kind, ...common, detection: number('r'), warning: number('L') };
    default:
      throw new DoorError('bad_input', `obs.kind must be exact, right, interval or worn, got "${kind}"`);
  }
}

const observations = (input: Record<string, Json>): Observation[] =>
  asArray(field(input, 'obs'), 'obs').map(observationOf);

export const observationLogLikelihood: Call = (input) => {
  const number = (name: string): number => asNumber(field(input, name), name);
  return {
    ll: logLikelihood(
      { scale: Math.exp(number('leta')), shape: number('beta'), share: number('pi') },
      observationOf(field(input, 'obs')),
    ),
  };
};

export const fit: Call = (input) => {
  const free = optional(input, 'lfp') === true;
  const found = fitLife(observations(input), free);
  return {
    mle: {
      leta: Math.log(found.scale),
      eta: found.scale,
      beta: found.shape,
      loglik: found.logLikelihood,
      ...(free ? { pi: found.share } : {}),
    },
    stopped: found.stopped,
  };
};

const momentsOut = (moments: Moments): Record<string, number> => ({
  mean_leta: moments.meanLogScale,
  sd_leta: moments.sdLogScale,
  mean_lbeta: moments.meanLogShape,
  sd_lbeta: moments.sdLogShape,
  mean_pi: moments.meanShare,
  sd_pi: moments.sdShare,
});

export const posterior: Call = (input) => {
  const prior = asObject(field(input, 'prior'), 'prior');
  const spec = asObject(field(input, 'spec'), 'spec');
  const from = (object: Record<string, Json>, name: string): number => asNumber(field(object, name), name);
  const { first, second, secondAxes } = lifePosterior(
    observations(input),
    {
      logScale: from(prior, 'leta0'),
      logScaleSd: from(prior, 's_leta'),
      logShape: from(prior, 'lbeta0'),
      logShapeSd: from(prior, 's_lbeta'),
      share: from(prior, 'pi0'),
      logitSd: from(prior, 's_logit'),
    },
    {
      scalePoints: from(spec, 'n_e'),
      scaleHalfWidth: from(spec, 'k_e'),
      shapePoints: from(spec, 'n_b'),
      shapeHalfWidth: from(spec, 'k_b'),
      sharePoints: from(spec, 'n_p'),
      shareHalfWidth: from(spec, 'k_p'),
    },
  );
  const risk = (nodes: typeof first.nodes): number => predictiveRisk(nodes, from(input, 'x0'), from(input, 'x1'));
  return {
    stage1: momentsOut(first.moments),
    q1: risk(first.nodes),
    axis2: { leta: secondAxes.logScale, lbeta: secondAxes.logShape, logit: secondAxes.logit },
    stage2: momentsOut(second.moments),
    q2: risk(second.nodes),
  };
};
