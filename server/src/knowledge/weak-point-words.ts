/** A look as people read it: its cautions and tools are kept by key, and said in their words. */
export const LOOK_IN_WORDS = `case
    when w.look is not null then w.look || jsonb_build_object(
      'cautions', (
        select coalesce(jsonb_agg(k.words order by k.key), '[]')
        from caution k
        where k.key in (select jsonb_array_elements_text(coalesce(w.look -> 'cautions', '[]')))
      ),
      'tools', (
        select coalesce(jsonb_agg(t.name order by t.key), '[]')
        from tool t
        where t.key in (select jsonb_array_elements_text(coalesce(w.look -> 'tools', '[]')))
      )
    )
  end`;

/** SQL: how weak point `w` shows, each symptom with its words. */
export const SYMPTOMS_IN_WORDS = `(
    select coalesce(
      jsonb_agg(
        told.symptom || jsonb_build_object('words', s.words, 'codes', s.codes, 'tells', s.tells, 'stop', s.stop,
          'drive', s.drive, 'forbids', s.forbids) order by told.place
      ), '[]'
    )
    from jsonb_array_elements(w.symptoms) with ordinality as told(symptom, place)
    join symptom s on s.key = told.symptom ->> 'symptom'
  )`;

/** SQL: what a failure of weak point `w` harms, another weak point by its title. */
export const DAMAGES_IN_WORDS = `(
    select coalesce(
      jsonb_agg(
        told.damage || jsonb_build_object('harms', coalesce(told.damage ->> 'harms', other.title)) order by told.place
      ), '[]'
    )
    from jsonb_array_elements(w.damages) with ordinality as told(damage, place)
    left join weak_point other on other.key = told.damage ->> 'weakPoint'
  )`;
