-- Multiplies the one run of a store, with all it stands on, into a store of many years: 200 setups, 50 courses, 4 000 outings,
-- 100 000 runs of 20 figures, 5 000 trials and 20 000 rides. The same every time.
select setseed(0.42);
-- What refers to what is right by its making; looking each up would take a third of the time.
set local session_replication_role = replica;

create temporary table the_run as select r.*, rev.setup_id from run r join setup_revision rev on rev.id = r.setup_revision_id limit 1;

create temporary table new_setup as select gen_random_uuid() as id, gen_random_uuid() as revision_id, k from generate_series(1, 200) k;
insert into setup
  select (jsonb_populate_record(s, jsonb_build_object('id', n.id, 'name', 'Fit ' || n.k))).*
  from setup s join the_run t on t.setup_id = s.id, new_setup n;
insert into setup_revision
  select (jsonb_populate_record(rev, jsonb_build_object('id', n.revision_id, 'setup_id', n.id))).*
  from setup_revision rev join the_run t on t.setup_revision_id = rev.id, new_setup n;
insert into setup_revision_pack
  select (jsonb_populate_record(p, jsonb_build_object('revision_id', n.revision_id))).*
  from setup_revision_pack p join the_run t on t.setup_revision_id = p.revision_id, new_setup n;
create temporary table new_course as select gen_random_uuid() as id, k from generate_series(1, 50) k;
insert into course
  select (jsonb_populate_record(c, jsonb_build_object('id', n.id, 'name', 'Round ' || n.k))).*
  from course c join the_run t on t.course_id = c.id, new_course n;
create temporary table new_outing as select gen_random_uuid() as id, k from generate_series(1, 4000) k;
insert into outing
  select (jsonb_populate_record(o, jsonb_build_object('id', n.id, 'title', 'Day ' || n.k, 'date', date '2016-01-01' + n.k))).*
  from outing o join the_run t on t.outing_id = o.id, new_outing n;

-- Each run of a setup, a course and an outing; one in fifty is left out, one in a hundred deleted.
create temporary table new_run as
  select gen_random_uuid() as id, gen_random_uuid() as log_id, k, 1 + floor(random() * 200)::int as setup, 1 + floor(random() * 50)::int as course,
    1 + (k / 25) as outing, random() as value
  from generate_series(1, 100000 - 1) k;
insert into log (id, sha256, file_name, bytes, byte_count, format, cleaning, has_clock, duration_s, sample_count)
  select n.log_id, 'copy ' || n.k, 'copy-' || n.k || '.csv', '', 0, 'csv', '{}', true, 1200, 12000 from new_run n;
insert into run (id, log_id, setup_revision_id, course_id, outing_id, test_kind, method_name, method_version, warnings, deleted_at)
  select n.id, n.log_id, s.revision_id, c.id, o.id, case when n.k % 5 = 0 then 'hill-climb' else 'range' end, t.method_name, t.method_version, '[]',
    case when n.k % 100 = 99 then now() end
  from new_run n join new_setup s on s.k = n.setup join new_course c on c.k = n.course join new_outing o on o.k = least(n.outing, 4000), the_run t;
insert into run_exclusion (id, run_id, reason) select gen_random_uuid(), n.id, 'gust' from new_run n where n.k % 50 = 0;

create temporary table kinds_of_figure as
  select key, position, label, value, unit, n from figure f join the_run t on t.id = f.run_id
  union all select 'further' || k, 100 + k, 'Further ' || k, 10, 'Wh', 1 from generate_series(1, 20) k;
insert into figure (run_id, key, position, label, value, unit, standard_uncertainty, interval_lower, interval_upper, n, method_name, method_version, warnings, derivation)
  select r.id, f.key, f.position, f.label, f.value * (0.9 + 0.2 * r.value), f.unit, abs(f.value) / 100, f.value * 0.9, f.value * 1.1, f.n, 'range', '1.0', '[]',
    '{"formula": "", "substituted": "", "inputs": [], "contributions": []}'
  from new_run r, (select * from kinds_of_figure order by position limit 20) f;

create temporary table new_trial as select gen_random_uuid() as id, k from generate_series(1, 5000) k;
insert into trial (id, question, deciding_figure, smallest_difference_kind, smallest_difference, course_id)
  select n.id, 'Which of two goes further, no. ' || n.k, 'netConsumption', 'relative', 0.05, c.id from new_trial n join new_course c on c.k = 1 + n.k % 50;
insert into trial_setup (trial_id, position, revision_id)
  select n.id, p, s.revision_id from new_trial n, generate_series(0, 1) p join new_setup s on true
  where s.k = 1 + (n.k * 7 + p * 3) % 200;

insert into ride (id, state, revision_id, course_id, test_kind, direction, effort, preparation, after, limits, run_id)
  select gen_random_uuid(), 'kept', s.revision_id, c.id, 'range', 1, '', '{}', '{}', '{}', n.id
  from new_run n join new_setup s on s.k = n.setup join new_course c on c.k = n.course where n.k <= 20000;
analyze;
