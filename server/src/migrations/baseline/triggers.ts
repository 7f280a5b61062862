/** Tables whose rows change what is known of a family, each with the families of the rows that changed. */
const FAMILIES_OF: Readonly<Record<string, string>> = {
  authority: `select w.family_id
      from weak_point w
      join statement s on s.weak_point_id = w.id
      where s.authority_id in (select id from changed)`,
  component: 'select w.family_id from weak_point w where w.component_id in (select id from changed)',
  engine_variant: 'select family_id from changed',
  experience: 'select w.family_id from weak_point w where w.id in (select weak_point_id from changed)',
  family_feature: 'select family_id from changed',
  part: 'select w.family_id from weak_point w where w.component_id in (select component_id from changed)',
  statement: 'select w.family_id from weak_point w where w.id in (select weak_point_id from changed)',
  upkeep_task: 'select family_id from changed',
  weak_point: 'select family_id from changed',
};

/** A row that is added, altered or taken away raises the revision of its families: their vehicles are judged again. */
const REVISIONS = Object.entries(FAMILIES_OF)
  .map(
    ([table, families]) => `
  create function ${table}_known() returns trigger language plpgsql as $$
    begin
      update family_state set revision = revision + 1 where family_id in (${families});
      return null;
    end $$;
  create trigger ${table}_added after insert on ${table} referencing new table as changed
    for each statement execute function ${table}_known();
  create trigger ${table}_altered after update on ${table} referencing new table as changed
    for each statement execute function ${table}_known();
  create trigger ${table}_taken after delete on ${table} referencing old table as changed
    for each statement execute function ${table}_known();`,
  )
  .join('\n');

/** A family has a state from its first row on, and its own alterations raise its revision. */
const FAMILIES = `
  create function family_born() returns trigger language plpgsql as $$
    begin
      insert into family_state (family_id) select id from changed on conflict do nothing;
      return null;
    end $$;
  create trigger family_born after insert on engine_family referencing new table as changed
    for each statement execute function family_born();
  create function family_altered() returns trigger language plpgsql as $$
    begin
      update family_state set revision = revision + 1 where family_id in (select id from changed);
      return null;
    end $$;
  create trigger family_altered after update on engine_family referencing new table as changed
    for each statement execute function family_altered();
`;

/** Tables whose words a weak point is found by, each with the weak points of the rows that changed. */
const POINTS_OF: Readonly<Record<string, string>> = {
  component: 'component_id in (select id from changed)',
  engine_family: 'family_id in (select id from changed)',
  part: 'component_id in (select component_id from changed)',
};

/** The words by which a weak point is found are written with it, and again when its component or engine changes. */
const WORDS = `
  create function weak_point_words(point weak_point) returns text language sql stable as $$
    select lower(concat_ws(' ', point.title, point.signs, point.effect, c.name, f.code, f.code_key, m.name, f.name,
      (
        select string_agg(concat_ws(' ', p.number, p.name), ' ')
        from part p
        where p.component_id = point.component_id
      ),
      (
        select string_agg(concat_ws(' ', s.words, s.codes::text), ' ')
        from symptom s
        where s.key in (select told ->> 'symptom' from jsonb_array_elements(point.symptoms) as told)
      )))
    from component c, engine_family f
    join maker m on m.id = f.maker_id
    where c.id = point.component_id and f.id = point.family_id $$;
  create function weak_point_worded() returns trigger language plpgsql as $$
    begin
      new.search_text := coalesce(weak_point_words(new), '');
      return new;
    end $$;
  create trigger weak_point_worded before insert or update on weak_point
    for each row execute function weak_point_worded();
  create function symptom_worded() returns trigger language plpgsql as $$
    begin
      update weak_point w set search_text = '' from changed
      where w.symptoms @> jsonb_build_array(jsonb_build_object('symptom', changed.key));
      return null;
    end $$;
  create trigger symptom_worded after update on symptom referencing new table as changed
    for each statement execute function symptom_worded();
${Object.entries(POINTS_OF)
  .map(
    ([table, points]) => `
  create function ${table}_worded() returns trigger language plpgsql as $$
    begin
      update weak_point set search_text = '' where ${points};
      return null;
    end $$;
  create trigger ${table}_worded after update on ${table} referencing new table as changed
    for each statement execute function ${table}_worded();`,
  )
  .join('\n')}
  create trigger part_worded_added after insert on part referencing new table as changed
    for each statement execute function part_worded();
`;

export const TRIGGERS = `${FAMILIES}${REVISIONS}\n${WORDS}`;
