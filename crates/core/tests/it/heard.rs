//! What screens hear. They read again only what was touched, so that nothing may change in silence; and who may see the same
//! is told the same.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Heard, Lens, Reach},
    condition::{Check, Who},
    dataset::{Dataset, Recomputed},
    history::{Change, Op},
    id::{RecordId, TableId},
    intent::{Edit, Intent},
    part::Part,
    people::Actor,
    schema::Kind,
    sentence::as_text,
    value::{Input, Value},
    view::{Query, ShownField, Window},
};

/// A change that somebody might make, anywhere in the demo.
#[derive(Clone, Debug)]
enum Act {
    Type { table: usize, record: u32, field: usize, text: &'static str },
    Link { table: usize, record: u32, field: usize, to: Vec<u32> },
    Add { table: usize },
    Remove { table: usize, record: u32 },
}

fn any_act() -> impl Strategy<Value = Act> {
    let at = || (0_usize..8, 1_u32..40, 0_usize..40);
    let texts =
        vec!["Alder", "3", "reported", "made good", "grave", "tomorrow", "1 Mar 2026", "yes", "", "a@b.example", "Tamsin Eldersward"];
    prop_oneof![
        6 => (at(), prop::sample::select(texts)).prop_map(|((table, record, field), text)| Act::Type { table, record, field, text }),
        3 => (at(), prop::collection::vec(1_u32..12, 0..2)).prop_map(|((table, record, field), to)| Act::Link { table, record, field, to }),
        1 => (0_usize..8).prop_map(|table| Act::Add { table }),
        1 => (0_usize..8, 1_u32..40).prop_map(|(table, record)| Act::Remove { table, record }),
    ]
}

impl Act {
    fn intent(&self, ds: &Dataset) -> Intent {
        let (Act::Type { table, .. } | Act::Link { table, .. } | Act::Add { table } | Act::Remove { table, .. }) = self;
        let home = ds.tables().nth(table % ds.tables().count()).unwrap();
        let id = home.def.id;
        let links: Vec<_> = home.def.fields.iter().filter(|f| home.link(f.id).is_some()).collect();
        let others: Vec<_> = home.def.fields.iter().filter(|f| f.kind.takes_input() && home.link(f.id).is_none()).collect();
        let edit = |record: &u32, field, input| Intent::Edit {
            table: id,
            record: record_of(*record),
            edits: vec![Edit { field, input, was: None }],
        };
        match self {
            Act::Type { record, field, text, .. } => edit(record, others[field % others.len()].id, typed(text)),
            Act::Link { record, field, to, .. } if !links.is_empty() => {
                let to = Value::Links(to.iter().map(|r| record_of(*r)).collect());
                edit(record, links[field % links.len()].id, Input::Value(to))
            }
            Act::Link { .. } | Act::Add { .. } => Intent::Add { table: id, records: vec![Vec::new()] },
            Act::Remove { record, .. } => Intent::Remove { table: id, records: vec![record_of(*record)] },
        }
    }
}

fn record_of(number: u32) -> RecordId {
    RecordId::new(number).unwrap()
}

/// A change as it was done, with the states around it.
struct Done {
    before: Dataset,
    after: Dataset,
    change: Change,
    recomputed: Recomputed,
}

fn done(intent: &Intent) -> Option<Done> {
    let before = demo();
    let change = before.decide(intent, asker(&before, "Nadia"), &clock()).ok()?.change;
    let mut after = before.clone();
    let recomputed = after.apply(&change);
    Some(Done { before, after, change, recomputed })
}

impl Done {
    fn heard(&self, who: Asker) -> Option<Heard> {
        let clock = clock();
        let lens = |ds| Lens::new(ds, who, &clock);
        Heard::of(Some(&self.change), &self.recomputed, &lens(&self.before), &lens(&self.after))
    }
}

/// All that a view shows to somebody, and the tables that it says it depends on.
fn shown(ds: &Dataset, who: Asker, table: TableId, query: &Query) -> (String, Vec<TableId>) {
    let clock = clock();
    let lens = Lens::new(ds, who, &clock);
    let Ok(query) = query.asked_by(&lens, table) else { return Default::default() };
    let outcome = query.run(&lens, table, &Window { rows: 0..500, keep: &[], own: None });
    let fields: Vec<_> = query.fields.iter().map(|f| f.field).collect();
    let rows: Vec<_> = lens.rows(table, &outcome.window, &fields).into_iter().map(|row| (row.id, row.cells)).collect();
    let sentence = as_text(&query.to_sentence(&lens, table, outcome.total, outcome.matching, None));
    let text = format!("{sentence} {rows:?} {:?} {:?} {}", outcome.groups, outcome.tallies, outcome.total);
    (text, lens.tables_of(&query, table).into_iter().collect())
}

/// When and by whom a record was changed last is read with the rest; that a hidden field was changed is no reason to say so.
fn is_stamp(kind: &Kind) -> bool {
    matches!(kind, Kind::ChangedAt | Kind::ChangedBy)
}

/// A view of everything that a table holds, beside those that the demo has.
fn whole(ds: &Dataset, table: TableId) -> Query {
    let fields = ds.table(table).unwrap().def.fields.iter().filter(|f| !is_stamp(&f.kind));
    Query { fields: fields.map(|f| ShownField { field: f.id, width: 80 }).collect(), ..Query::default() }
}

fn no_view_changes_in_silence(act: &Act, who: usize) -> Result<(), TestCaseError> {
    let Some(done) = done(&act.intent(&demo())) else { return Ok(()) };
    let who = Asker::Person(done.before.people.iter().nth(who).unwrap().id);
    let heard = done.heard(who);
    let views = done.before.views().map(|view| (view.table, view.query.clone()));
    let all = done.before.tables().map(|t| (t.def.id, whole(&done.before, t.def.id)));
    for (table, query) in views.chain(all) {
        let (was, of) = shown(&done.before, who, table, &query);
        if shown(&done.after, who, table, &query).0 == was {
            continue;
        }
        let reads = heard.as_ref().is_some_and(|h| h.structure || h.access || of.iter().any(|table| h.records.contains_key(table)));
        prop_assert!(reads, "{act:?} changes a view of table {table} over {of:?}, and what is heard is {heard:?}");
    }
    Ok(())
}

/// A section is in sight by way of its district, its faults by way of it, and so on to the lines of their work orders.
#[test]
fn what_goes_out_of_sight_with_a_record_far_off_is_heard() {
    for record in 1..=12 {
        for who in 0..8 {
            no_view_changes_in_silence(&Act::Remove { table: 0, record }, who).unwrap();
        }
    }
}

/// A reach may name a field that is but carried: it hangs on all that this is carried along and from, also in another table.
#[test]
fn a_reach_that_names_what_is_carried_hangs_on_what_it_is_carried_from() {
    let mut before = demo();
    let (faults, districts) = (table(&before, "Faults"), table(&before, "Districts"));
    let carried = field(&before, "Faults.Warden");
    let mut role = before.roles().find(|role| role.name == "Warden").unwrap().clone();
    let me = test(&[carried], Check::Person { not: false, any: vec![Who::Me] });
    role.tables.get_mut(&faults).unwrap().look = Reach::Where(me);
    before.load_part(&Part::Role(role));
    let clock = clock();
    let tamsin = asker(&before, "Tamsin");
    let lens = Lens::new(&before, tamsin, &clock);
    for on in ["Faults.Warden", "Faults.Section", "Sections.District", "Districts.Warden"] {
        assert!(lens.depends_on(field(&before, on)), "{on}");
    }
    assert!(!lens.depends_on(field(&before, "Faults.Hours needed")));
    let (warden, other) = (field(&before, "Districts.Warden"), person(&before, "Idris"));
    let hers =
        records(&before, districts).into_iter().find(|r| value(&before, districts, *r, warden) == Value::Person(person(&before, "Tamsin")));
    let edit = Edit { field: warden, input: Input::Value(Value::Person(other)), was: None };
    let intent = Intent::Edit { table: districts, record: hers.unwrap(), edits: vec![edit] };
    let change = before.decide(&intent, asker(&before, "Nadia"), &clock).unwrap().change;
    let mut after = before.clone();
    let recomputed = after.apply(&change);
    let then = Lens::new(&after, tamsin, &clock);
    assert!(lens.count(faults) > 0 && then.count(faults) < lens.count(faults));
    assert!(Heard::of(Some(&change), &recomputed, &lens, &then).is_some_and(|heard| heard.access), "her screens are read anew");
    // And who is asked before many are changed is told so.
    let says = Lens::new(&before, asker(&before, "Nadia"), &clock).sights_moved(&change, &recomputed, &after);
    assert!(says.iter().any(|says| says.contains("Tamsin Oake") && says.contains("no longer see")), "{says:?}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(100))]

    #[test]
    fn no_view_changes_without_a_word_that_makes_its_screen_read_again(act in any_act(), who in 0_usize..8) {
        no_view_changes_in_silence(&act, who)?;
    }

    #[test]
    fn no_folio_changes_without_a_word_that_makes_its_screen_read_again(act in any_act(), who in 0_usize..8, number in 1_u32..12) {
        let Some(done) = done(&act.intent(&demo())) else { return Ok(()) };
        let who = Asker::Person(done.before.people.iter().nth(who).unwrap().id);
        let heard = done.heard(who);
        let clock = clock();
        for home in done.before.tables() {
            let (table, record) = (home.def.id, record_of(number));
            let seen = |ds: &Dataset| {
                let lens = Lens::new(ds, who, &clock);
                let shown = home.def.fields.iter().filter(|f| !is_stamp(&f.kind));
                let fields: Vec<_> = shown.map(|f| f.id).filter(|f| lens.reads(table, *f)).collect();
                let rows: Vec<_> = lens.rows(table, &[record], &fields).into_iter().map(|row| row.cells).collect();
                (format!("{rows:?} {:?} {:?}", lens.record_name(table, record), lens.moved_on(table, record)), lens.drawn_from(fields))
            };
            let ((was, of), (is, _)) = (seen(&done.before), seen(&done.after));
            let reads = heard.as_ref().is_some_and(|h| {
                let own = h.records.get(&table).is_some_and(|records| records.contains(&record)) || h.more.contains(&table);
                h.structure || h.access || own || of.iter().any(|table| h.records.contains_key(table))
            });
            prop_assert!(was == is || reads, "{act:?} changes record {number} of table {table} over {of:?} from {was} to {is}, and what is heard is {heard:?}");
        }
    }

    #[test]
    fn people_who_are_alike_hear_the_same(act in any_act()) {
        let Some(done) = done(&act.intent(&demo())) else { return Ok(()) };
        let everybody: Vec<Asker> = done.before.people.iter().map(|p| Asker::Person(p.id)).collect();
        let alike = |who: Asker| (who.alike(&done.before), who.alike(&done.after));
        for one in &everybody {
            for other in everybody.iter().filter(|other| alike(*one) == alike(**other)) {
                prop_assert_eq!(done.heard(*one), done.heard(*other), "{:?} and {:?}", one, other);
            }
        }
    }
}

#[test]
fn people_of_one_role_are_alike_unless_it_speaks_of_them() {
    let ds = demo();
    let who = |name| asker(&ds, name).alike(&ds);
    // Wardens see their own districts, volunteers what they sent in; trustees and the office see the same as each other.
    assert_ne!(who("Tamsin"), who("Idris"));
    assert_ne!(who("Pavel"), who("Bex"));
    let mut ds = ds.clone();
    let mut role = ds.roles().find(|r| r.members.contains(&person(&ds, "Pavel"))).unwrap().clone();
    role.members = [person(&ds, "Pavel"), person(&ds, "Wren")].into();
    ds.load_part(&Part::Role(role));
    let mut other = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    other.members.clear();
    ds.load_part(&Part::Role(other));
    assert_eq!(asker(&ds, "Pavel").alike(&ds), asker(&ds, "Wren").alike(&ds));
}

#[test]
fn a_form_that_changes_is_heard_by_whoever_opens_its_table() {
    let ds = demo();
    let mut form = ds.forms().next().unwrap().clone();
    form.open = false;
    let done = done(&Intent::Save(Part::Form(form))).unwrap();
    for who in ["Nadia", "Pavel", "Tamsin"] {
        assert!(done.heard(asker(&ds, who)).is_some_and(|heard| heard.structure), "{who}");
    }
}

#[test]
fn of_a_bulk_step_out_of_reach_nothing_is_heard() {
    let before = demo();
    let faults = table(&before, "Faults");
    let count = u32::try_from(records(&before, faults).len()).unwrap();
    // As taking an import back bins its records: more of them than are named.
    let bin = Op::Bin { table: faults, first: record_of(1), count, gone: true };
    let change = Change { seq: before.seq + 1, at: clock().now, who: Actor::Westerfall, undoes: None, again: false, ops: vec![bin] };
    let mut after = before.clone();
    let recomputed = after.apply(&change);
    let many = Done { before, after, change, recomputed };
    // Sections are open to volunteers, their faults are not.
    let (wren, sections) = (asker(&many.before, "Wren"), table(&many.before, "Sections"));
    assert!(Lens::new(&many.before, wren, &clock()).opens(sections));
    assert_eq!(many.heard(wren), None);
    let heard = many.heard(asker(&many.before, "Nadia")).unwrap();
    assert!(heard.more.contains(&faults) && heard.records.contains_key(&sections), "{heard:?}");
}
