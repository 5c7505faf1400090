//! The lens: whatever is asked, nothing comes out that is not within reach.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::{Asker, Base, FieldRight, Heard, Lens, Reach, Right, Role, TableRights, may_stand_in},
    condition::{Check, Condition, Quantity, Test, TextMatch, Who},
    dataset::Dataset,
    face::Face,
    fault::FaultKind,
    form::{Answer, Responding},
    id::{FormId, PersonId, RecordId, TrackerId},
    intent::{Edit, Intent},
    part::Part,
    schema::{Kind, TableDef},
    value::Value,
    view::{GroupBy, Order, Query, ShownField, Window},
};

#[test]
fn nobody_stands_in_for_somebody_who_opens_what_they_do_not_run() {
    let role = |base, members: &[u32]| {
        let members = members.iter().map(|n| PersonId::new(*n).unwrap()).collect();
        Role { base, members, ..demo().roles().next().unwrap().clone() }
    };
    let at = |n| TrackerId::new(n).unwrap();
    let roles = [
        (at(1), role(Base::Steward, &[1])),
        (at(1), role(Base::Own, &[2, 3])),
        (at(2), role(Base::Steward, &[4])),
        (at(2), role(Base::Reader, &[3, 1])),
    ];
    let may = |by, other| may_stand_in(&roles, &[], &demo().people, PersonId::new(by).unwrap(), PersonId::new(other).unwrap());
    assert!(may(1, 2), "who is in their tracker alone");
    assert!(!may(1, 3), "who reads another tracker, too");
    assert!(!may(4, 1) && !may(4, 3) && !may(2, 3), "who is in a tracker that they don’t run");
    assert!(!may(1, 1) && !may(1, 9), "oneself, and who is nowhere");
    // A view that is given in a tracker that one does not run is as much as a role there.
    let mut view = demo().views().next().unwrap().clone();
    view.given = [(PersonId::new(2).unwrap(), westerfall_core::view::GivenRight::Look)].into();
    let with = |tracker: u32| {
        may_stand_in(&roles, &[(at(tracker), view.clone())], &demo().people, PersonId::new(1).unwrap(), PersonId::new(2).unwrap())
    };
    assert!(may(1, 2) && with(1) && !with(2));
}

/// The faults a person may see, worked out by hand from what the demo's roles say.
fn reach(ds: &Dataset, who: PersonId) -> BTreeSet<RecordId> {
    let faults = table(ds, "Faults");
    let name = ds.people.name(who).to_owned();
    let mail = ds.people.get(who).unwrap().mail.clone();
    records(ds, faults)
        .into_iter()
        .filter(|r| match name.split(' ').next().unwrap() {
            "Nadia" | "Bex" | "Pavel" => true,
            "Wren" => {
                let by_me = kept(ds, faults, *r).unwrap().meta.created_by == westerfall_core::people::Actor::Person(who);
                by_me || value(ds, table(ds, "Faults"), *r, field(ds, "Faults.Reporter’s mail")) == Value::text(&mail)
            }
            _ => warden(ds, *r) == Some(who),
        })
        .collect()
}

/// The warden of a fault's section's district.
fn warden(ds: &Dataset, fault: RecordId) -> Option<PersonId> {
    let follow = |table_name: &str, name: &str, r: RecordId| {
        linked(ds, table(ds, table_name), r, field(ds, &format!("{table_name}.{name}"))).first().copied()
    };
    let district = follow("Sections", "District", follow("Faults", "Section", fault)?)?;
    match value(ds, table(ds, "Districts"), district, field(ds, "Districts.Warden")) {
        Value::Person(person) => Some(person),
        _ => None,
    }
}

const GROUPABLE: [&str; 6] = ["Section", "District", "Warden", "Severity", "Reporter’s mail", "Created by"];

proptest! {
    #![proptest_config(ProptestConfig::with_cases(128))]

    #[test]
    fn no_query_yields_anything_out_of_reach(
        condition in any_condition(),
        who in 1_u32..=8,
        group in prop::option::of(prop::sample::select(GROUPABLE.to_vec())),
        sort in prop::sample::select(GROUPABLE.to_vec()),
        keep in prop::collection::vec((1_u32..130).prop_map(record), 0..4),
    ) {
        let (ds, clock) = (demo(), clock());
        let faults = table(&ds, "Faults");
        let me = PersonId::new(who).unwrap();
        let lens = Lens::new(&ds, Asker::Person(me), &clock);
        let mine = reach(&ds, me);
        let order = |name: &str| Order { field: field(&ds, &format!("Faults.{name}")), descending: false };
        let all: Vec<ShownField> = ds.table(faults).unwrap().def.fields.iter().map(|f| ShownField { field: f.id, width: 80 }).collect();
        let query = Query { condition, groups: group.map(|name| GroupBy::of(order(name).field)).into_iter().collect(), sorts: vec![order(sort)], fields: all.clone(), ..Query::default() };
        let outcome = query.run(&lens, faults, &Window { rows: 0..1_000, keep: &keep, own: None });

        prop_assert_eq!(outcome.total, mine.len());
        prop_assert!(outcome.matching <= mine.len());
        prop_assert!(outcome.window.iter().all(|r| mine.contains(r)));
        prop_assert!(outcome.groups.iter().map(|g| g.count).sum::<usize>() <= mine.len());

        // Every name and value in what is shown belongs to records in reach and to fields that are open.
        let fields: Vec<_> = all.iter().map(|f| f.field).collect();
        for row in lens.rows(faults, &outcome.window, &fields) {
            for (id, cell) in fields.iter().zip(&row.cells) {
                let Some(cell) = cell else { continue };
                prop_assert!(lens.reads(faults, *id));
                let (_, def) = ds.shown_kind(faults, *id).unwrap();
                if let Kind::Link(link) = def {
                    prop_assert!(cell.links.iter().all(|l| lens.sees(link.to, l.id)));
                }
            }
        }
        for (group, order) in outcome.groups.iter().zip(query.groups.iter().cycle()) {
            if let (Value::Links(targets), Some((_, def))) = (&group.value, ds.shown_kind(faults, order.field))
                && let Kind::Link(link) = def
            {
                prop_assert!(targets.iter().all(|t| lens.sees(link.to, *t)));
            }
        }
    }

    /// Two people never see two figures in one carried cell: they see the same, or nothing.
    #[test]
    fn a_carried_value_is_the_same_for_everyone_or_not_shown(fault in (1_u32..120).prop_map(record), who in 1_u32..=8) {
        let (ds, clock) = (demo(), clock());
        let whole = Lens::of_everything(&ds, None, &clock);
        let lens = Lens::new(&ds, Asker::Person(PersonId::new(who).unwrap()), &clock);
        for (home, name) in [("Faults", "District"), ("Faults", "Warden"), ("Sections", "Warden")] {
            let (at, id) = (table(&ds, home), field(&ds, &format!("{home}.{name}")));
            let (mine, theirs) = (lens.text_at(at, fault, id), whole.text_at(at, fault, id));
            prop_assert!(mine.is_empty() || mine == theirs, "{} for one, {} for another", mine, theirs);
        }
    }
}

#[test]
fn a_warden_sees_their_district_and_nothing_of_the_others() {
    let (ds, clock) = (demo(), clock());
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    assert_eq!(tamsin.count(table(&ds, "Districts")), 1);
    assert_eq!(tamsin.count(table(&ds, "Sections")), 11);
    assert_eq!(tamsin.count(table(&ds, "Faults")), reach(&ds, person(&ds, "Tamsin")).len());
    let names = tamsin.search_names(table(&ds, "Sections"), "tarn", 30);
    assert!(names.is_empty(), "sections of Harrow Tarn are found: {names:?}");
    assert!(tamsin.record_name(table(&ds, "Districts"), record(2)).is_none());
}

#[test]
fn whoever_is_at_a_forms_link_sees_no_record_at_all() {
    let (ds, clock) = (demo(), clock());
    let stranger = Lens::new(&ds, Asker::Form(FormId::new(120).unwrap()), &clock);
    for home in ds.tables() {
        assert_eq!(stranger.count(home.def.id), 0);
        assert!(stranger.search_names(home.def.id, "", 30).is_empty());
    }
}

#[test]
fn the_form_offers_names_and_nothing_else() {
    let (ds, clock) = (demo(), clock());
    let form = Responding { form: ds.form(FormId::new(120).unwrap()).unwrap(), ds: &ds, clock: &clock, team: Face::named("") };
    let section = field(&ds, "Faults.Section");
    let offered = form.offered(section, "hob", &Answer::default()).unwrap();
    assert!(!offered.is_empty() && offered.iter().all(|n| n.name.contains("Hob") && n.beside.is_empty()));
    let other = form.offered(field(&ds, "Faults.District"), "", &Answer::default());
    assert_eq!(other.unwrap_err().kind, FaultKind::NotFound);
}

#[test]
fn a_volunteer_sees_what_they_made_and_what_came_under_their_address() {
    let mut ds = demo();
    let (faults, wren) = (table(&ds, "Faults"), asker(&ds, "Wren"));
    let title = field(&ds, "Faults.What is wrong");
    let made = act(&mut ds, wren, &Intent::Add { table: faults, records: vec![vec![(title, typed("Loose slab"))]] }).unwrap().added[0];
    let form = FormId::new(120).unwrap();
    let answers = |mail: &str| {
        let f = |name: &str| field(&demo(), &format!("Faults.{name}"));
        vec![
            (f("What is wrong"), typed("Slab gone")),
            (f("Kind"), typed("surface")),
            (f("Severity"), typed("awkward")),
            (f("Section"), links(&[3])),
            (f("Reporter’s mail"), typed(mail)),
        ]
    };
    let mine =
        act(&mut ds, Asker::Form(form), &Intent::Send { form, answer: answers("WREN@orrindale-paths.example").into() }).unwrap().added[0];
    let other =
        act(&mut ds, Asker::Form(form), &Intent::Send { form, answer: answers("someone@walkers.example").into() }).unwrap().added[0];
    let clock = clock();
    let lens = Lens::new(&ds, wren, &clock);
    assert!(lens.sees(faults, made) && lens.sees(faults, mine) && !lens.sees(faults, other));
    assert!(lens.may(Right::Change, faults, mine) && !lens.may(Right::Remove, faults, mine));
    // The section's name is open to volunteers, its district is not, so the carried district is not either.
    assert!(!lens.text_at(faults, mine, field(&ds, "Faults.Section")).is_empty());
    assert!(lens.text_at(faults, mine, field(&ds, "Faults.District")).is_empty());
}

#[test]
fn a_released_carried_value_is_shown_whatever_it_draws_on() {
    let mut ds = demo();
    let (faults, warden_field) = (table(&ds, "Faults"), field(&ds, "Faults.Warden"));
    let mut role = ds.roles().find(|r| r.name == "Volunteer").unwrap().clone();
    role.tables.insert(faults, TableRights { look: Reach::All, released: [warden_field].into(), ..TableRights::default() });
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    assert!(!lens.text_at(faults, record(1), warden_field).is_empty());
    assert!(lens.text_at(faults, record(1), field(&ds, "Faults.District")).is_empty());
}

#[test]
fn what_is_out_of_reach_answers_like_what_is_not_there() {
    let ds = demo();
    let (faults, tamsin) = (table(&ds, "Faults"), asker(&ds, "Tamsin"));
    let theirs = reach(&ds, person(&ds, "Idris")).into_iter().next().unwrap();
    let edit = |r| {
        let edits = vec![Edit { field: field(&ds, "Faults.Description"), input: typed("x"), was: None }];
        ds.decide(&Intent::Edit { table: faults, record: r, edits }, tamsin, &clock()).unwrap_err().0
    };
    assert_eq!(edit(theirs), edit(record(99_999)));
    let to_section = |n| {
        let own = reach(&ds, person(&ds, "Tamsin")).into_iter().next().unwrap();
        let edits = vec![Edit { field: field(&ds, "Faults.Section"), input: links(&[n]), was: None }];
        ds.decide(&Intent::Edit { table: faults, record: own, edits }, tamsin, &clock()).unwrap_err().0
    };
    assert_eq!(to_section(2), to_section(9_999));
    // Looking has its own reach: a reader sees a fault but may not change it.
    let reader = ds.decide(&Intent::Remove { table: faults, records: vec![theirs] }, asker(&ds, "Pavel"), &clock());
    assert_eq!(reader.unwrap_err().0[0].kind, FaultKind::NotAllowed);
}

#[test]
fn linked_records_out_of_sight_survive_an_edit_of_the_list() {
    let mut ds = demo();
    let (sections, faults) = (table(&ds, "Sections"), field(&ds, "Sections.Faults"));
    // Tamsin loses sight of dangerous faults; the section's list she edits still holds them.
    let mut role = ds.roles().find(|r| r.name == "Warden").unwrap().clone();
    let dangerous = Check::Option { not: true, any: vec![option(&ds, "Faults.Severity.dangerous")] };
    let rights = role.tables.get_mut(&table(&ds, "Faults")).unwrap();
    rights.look = Reach::Where(test(&[field(&ds, "Faults.Severity")], dangerous));
    rights.change = rights.look.clone();
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    let dangerous: BTreeSet<RecordId> = {
        let (ds, severity) = (&ds, field(&ds, "Faults.Severity"));
        let at = table(ds, "Faults");
        let dangerous = Value::Choice(option(ds, "Faults.Severity.dangerous"));
        records(ds, at).into_iter().filter(|r| value(ds, at, *r, severity) == dangerous).collect()
    };
    let list = |ds: &Dataset, s: RecordId| linked(ds, sections, s, faults);
    let section =
        (1..=64).step_by(6).map(record).find(|s| list(&ds, *s).iter().any(|f| dangerous.contains(f))).expect("one with a dangerous fault");
    let hidden: Vec<RecordId> = list(&ds, section).into_iter().filter(|f| dangerous.contains(f)).collect();
    let tamsin = asker(&ds, "Tamsin");
    let edits = vec![Edit { field: faults, input: links(&[]), was: None }];
    act(&mut ds, tamsin, &Intent::Edit { table: sections, record: section, edits }).unwrap();
    assert_eq!(list(&ds, section), hidden);
}

#[test]
fn the_last_steward_cannot_leave_and_only_stewards_change_access() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let mut role = ds.roles().find(|r| r.name == "Steward").unwrap().clone();
    role.members.clear();
    assert_eq!(act(&mut ds, nadia, &Intent::Save(Part::Role(role.clone()))).unwrap_err().0[0].kind, FaultKind::NotAllowed);
    role.members = [person(&ds, "Bex")].into();
    let bex = asker(&ds, "Bex");
    assert_eq!(act(&mut ds, bex, &Intent::Save(Part::Role(role.clone()))).unwrap_err().0[0].kind, FaultKind::NotAllowed);
    act(&mut ds, nadia, &Intent::Save(Part::Role(role))).unwrap();
    assert!(Lens::new(&ds, bex, &clock()).is_steward());
}

#[track_caller]
fn heard(ds: &mut Dataset, actor: Asker, intent: &Intent, listener: Asker) -> Option<Heard> {
    let before = ds.clone();
    let change = ds.decide(intent, actor, &clock()).unwrap().change;
    let recomputed = ds.apply(&change);
    let clock = clock();
    Heard::of(Some(&change), &recomputed, &Lens::new(&before, listener, &clock), &Lens::new(ds, listener, &clock))
}

#[test]
fn nobody_hears_of_what_they_may_not_see() {
    let mut ds = demo();
    let (faults, nadia, tamsin, idris) = (table(&ds, "Faults"), asker(&ds, "Nadia"), asker(&ds, "Tamsin"), asker(&ds, "Idris"));
    let own = reach(&ds, person(&ds, "Tamsin")).into_iter().next().unwrap();
    let edit = |name: &str, text: &str| Intent::Edit {
        table: faults,
        record: own,
        edits: vec![Edit { field: field(&demo(), &format!("Faults.{name}")), input: typed(text), was: None }],
    };
    assert!(heard(&mut ds, nadia, &edit("Description", "one"), tamsin).is_some_and(|h| h.records[&faults].contains(&own)));
    assert_eq!(heard(&mut ds, nadia, &edit("Description", "two"), idris), None);
    // A field that is hidden from the reader changes silently for him, another does not.
    let pavel = asker(&ds, "Pavel");
    assert_eq!(heard(&mut ds, nadia, &edit("Reporter", "Wynn Ashdale"), pavel), None);
    assert!(heard(&mut ds, nadia, &edit("Description", "three"), pavel).is_some());
    // A district gets another warden: both wardens' screens are told, though one of them never saw the district.
    let marguerite = asker(&ds, "Marguerite");
    let districts = table(&ds, "Districts");
    let to = |who: PersonId| Intent::Edit {
        table: districts,
        record: record(1),
        edits: vec![Edit {
            field: field(&demo(), "Districts.Warden"),
            input: westerfall_core::value::Input::Value(Value::Person(who)),
            was: None,
        }],
    };
    let next = person(&ds, "Marguerite");
    let before = ds.clone();
    assert!(heard(&mut ds, nadia, &to(next), tamsin).is_some_and(|h| h.access));
    ds = before;
    assert!(heard(&mut ds, nadia, &to(next), marguerite).is_some_and(|h| h.access));
}

#[test]
fn a_trail_tells_only_what_is_open() {
    let mut ds = demo();
    let (faults, nadia) = (table(&ds, "Faults"), asker(&ds, "Nadia"));
    let mut changes = Vec::new();
    for (name, text) in [("Reporter", "Odile Birkhead"), ("Status", "checked"), ("Status", "in hand")] {
        let edits = vec![Edit { field: field(&ds, &format!("Faults.{name}")), input: typed(text), was: None }];
        changes.push(act(&mut ds, nadia, &Intent::Edit { table: faults, record: record(5), edits }).unwrap().change);
    }
    let clock = clock();
    let told = |who: &str| {
        let trail = Lens::new(&ds, asker(&ds, who), &clock).trail(faults, record(5), &changes);
        trail
            .iter()
            .flat_map(|e| e.edits.iter().map(|d| format!("{}: {} set {} to {}", e.at_text, e.who, d.name, d.after)))
            .collect::<Vec<_>>()
    };
    assert_eq!(told("Nadia").len(), 3);
    assert_eq!(
        told("Pavel"),
        ["23 Nov 2026, 09:30: Nadia Ferreira-Holt set Status to in hand", "23 Nov 2026, 09:30: Nadia Ferreira-Holt set Status to checked",]
    );
    assert!(told("Wren").is_empty());
}

#[test]
fn me_in_a_view_is_whoever_looks() {
    let (ds, clock) = (demo(), clock());
    let faults = table(&ds, "Faults");
    let mine: Condition = test(&[field(&ds, "Faults.Warden")], Check::Person { not: false, any: vec![Who::Me] });
    let count = |who: &str| mine.matching(&Lens::new(&ds, asker(&ds, who), &clock), faults).count_ones(..);
    assert_eq!(count("Nadia"), 0);
    assert_eq!(count("Tamsin"), reach(&ds, person(&ds, "Tamsin")).len());
}

#[test]
fn another_state_of_a_role_is_rehearsed_person_by_person_against_the_model_of_doing_it() {
    use westerfall_core::access::AccessRehearsal;
    let ds = demo();
    let clock = clock();
    let nadia = asker(&ds, "Nadia");
    let (faults, mail) = (table(&ds, "Faults"), field(&ds, "Faults.Reporter’s mail"));
    let warden = ds.roles().find(|role| role.name == "Warden").unwrap().clone();
    let told = |after: Option<&Role>| -> AccessRehearsal { Lens::new(&ds, nadia, &clock).rehearse_role(warden.id, after) };
    assert_eq!(told(Some(&warden)).says, ["Nobody gains or loses anything by it."]);
    // Only what is dangerous, without the reporter's mail, and Tamsin out of it.
    let mut less = warden.clone();
    let rights = less.tables.get_mut(&faults).unwrap();
    let dangerous = Check::Option { not: false, any: vec![option(&ds, "Faults.Severity.dangerous")] };
    let narrowed = match rights.look.clone() {
        Reach::Where(condition) => {
            westerfall_core::condition::Condition::All(vec![condition, crate::fixture::test(&[field(&ds, "Faults.Severity")], dangerous)])
        }
        other => panic!("{other:?}"),
    };
    rights.look = Reach::Where(narrowed);
    rights.fields.insert(mail, FieldRight::Hidden);
    let tamsin = crate::fixture::person(&ds, "Tamsin");
    less.groups.clear();
    less.members = warden.holders(&ds.people).map(|p| p.id).filter(|id| *id != tamsin).collect();
    let moves = told(Some(&less));
    // What is said is what doing it gives.
    let mut then = ds.clone();
    act(&mut then, nadia, &Intent::Save(Part::Role(less.clone()))).unwrap();
    for person in ds.people.iter().filter(|p| p.id != PersonId::new(1).unwrap()) {
        let counts = |ds: &Dataset| Lens::new(ds, Asker::Person(person.id), &clock).count(faults);
        let told = moves.people.iter().find(|one| one.person == person.id);
        let (before, after) = (counts(&ds), counts(&then));
        let of_faults = told.and_then(|one| one.tables.iter().find(|t| t.table == faults));
        assert_eq!(of_faults.map_or((before, before), |t| (t.look.before, t.look.after)), (before, after), "{}", person.name);
        if let Some(moved) = of_faults.filter(|t| t.look.after > 0) {
            assert!(moved.lost.len().min(3) == (before - after).min(3) && moved.gained.is_empty());
            assert!(moved.fields_lost.contains(&"Reporter’s mail".to_owned()), "{moved:?}");
            assert!(moved.words.starts_with(&format!("sees {before} → {after}")), "{}", moved.words);
        }
    }
    assert!(moves.people.iter().find(|one| one.person == tamsin).unwrap().shut_out);
    assert_eq!(moves.says[0], "4 people see less.");
    assert_eq!(moves.says[1], "Tamsin Oake would not open this tracker any more.");
    assert!(
        moves.says[2].starts_with("None of them would see ") && moves.says[2].ends_with(" that one of them sees now."),
        "{:?}",
        moves.says
    );
    // Taken away, all four are out; for somebody who comes to it, more.
    assert_eq!(told(None).people.iter().filter(|one| one.shut_out).count(), 4);
    let mut more = warden.clone();
    more.members.insert(crate::fixture::person(&ds, "Wren"));
    more.tables.get_mut(&faults).unwrap().look = Reach::All;
    let gains = told(Some(&more));
    let ways = "Forms and shared pages give what they give by themselves: nothing changes for whoever has a link.";
    assert_eq!(gains.says, ["5 people see more.", ways]);
    // Where nobody but stewards is left to see what a form brings, that is said.
    let mut nobody = ds.clone();
    let others: Vec<Role> = ds.roles().filter(|role| role.base != Base::Steward && role.id != warden.id).cloned().collect();
    for role in others {
        let tables = ds.tables().map(|table| (table.def.id, TableRights::default())).collect();
        nobody.load_part(&Part::Role(Role { tables, ..role }));
    }
    let lens = Lens::of_everything(&nobody, None, &clock);
    let says = lens.rehearse_role(warden.id, None).says;
    assert!(says.contains(&"What comes by the form “Report a path fault” would be seen by stewards alone.".to_owned()), "{says:?}");
    assert!(gains.people.iter().all(|one| one.tables.iter().any(|t| t.table == faults && t.look.after == t.of)));
}

/// A volunteer sees the parties they are on and their own entry, by the record under their confirmed address.
#[test]
fn my_record_is_the_one_under_ones_address_and_none_or_two_give_nothing() {
    use westerfall_core::{dataset::Recomputed, groundplan::EndSort};
    let mut ds = demo();
    let clock = clock();
    let (nadia, wren) = (asker(&ds, "Nadia"), asker(&ds, "Wren"));
    let (volunteers, parties) = (table(&ds, "Volunteers"), table(&ds, "Work parties"));
    let (mail, on, hours) = (field(&ds, "Volunteers.Mail"), field(&ds, "Work parties.Volunteers"), field(&ds, "Work parties.Hours"));
    let seen = |ds: &Dataset| [parties, volunteers].map(|at| Lens::new(ds, wren, &clock).count(at));
    let ends = |ds: &Dataset| -> Vec<String> {
        let plan = Lens::new(ds, nadia, &clock).groundplan(&[]);
        plan.ends.into_iter().filter(|end| end.sort == EndSort::Nobody).map(|end| end.words).collect()
    };
    let me = Some(crate::fixture::person(&ds, "Wren"));
    for record in Lens::new(&ds, wren, &clock).records(parties) {
        let lens = Lens::new(&ds, wren, &clock);
        assert!(linked(&ds, parties, record, on).contains(&crate::fixture::record(1)));
        // Of the others on it she is told nothing, and of its hours all, which are released.
        assert_eq!(lens.text_at(parties, record, on), "Wren Castellane");
        assert!(!lens.text_at(parties, record, hours).is_empty());
    }
    let before = seen(&ds);
    assert!(before[0] > 3 && before[1] == 1 && ends(&ds).is_empty());
    // Under another address the record is somebody else's; she hears of it, and a loose end says so.
    let address = |number: u32, text: &str| Intent::Edit {
        table: volunteers,
        record: crate::fixture::record(number),
        edits: vec![Edit { field: mail, input: typed(text), was: None }],
    };
    let was = ds.clone();
    let change = act(&mut ds, nadia, &address(1, "w@volunteers.example")).unwrap().change;
    let heard = Heard::of(Some(&change), &Recomputed::default(), &Lens::new(&was, wren, &clock), &Lens::new(&ds, wren, &clock));
    assert!(heard.is_some_and(|heard| heard.access));
    assert_eq!(seen(&ds), [0, 0]);
    assert_eq!(ends(&ds), ["Wren Castellane has no volunteer of their own, so that Volunteer gives them nothing by it"]);
    // Two under one address are nobody: what is not my record is not given either.
    let mut def = TableDef::clone(&ds.table(volunteers).unwrap().def);
    def.fields.iter_mut().find(|f| f.id == mail).unwrap().unique = false;
    ds.load_part(&Part::Table(def));
    act(&mut ds, nadia, &address(1, "WREN@orrindale-paths.example ")).unwrap();
    assert_eq!(seen(&ds), before);
    act(&mut ds, nadia, &address(2, "wren@orrindale-paths.example")).unwrap();
    assert_eq!(seen(&ds), [0, 0]);
    assert_eq!(ends(&ds), ["Wren Castellane has several volunteers of their own, so that Volunteer gives them nothing by it"]);
    for of in [Quantity::Any, Quantity::All, Quantity::None] {
        let not = Condition::Test(Test { path: vec![on], of, check: Check::MyRecord { not: true } });
        assert_eq!(not.matching(&Lens::of_everything(&ds, me, &clock), parties).count_ones(..), 0, "{of:?}");
    }
}

#[test]
fn what_makes_a_record_somebodys_own_is_said_by_stewards_and_rehearsed() {
    use westerfall_core::{access::mine_sentence, intent::TableChange, schema::MineBy};
    let mut ds = demo();
    let clock = clock();
    let (nadia, wren) = (asker(&ds, "Nadia"), asker(&ds, "Wren"));
    let (volunteers, sections) = (table(&ds, "Volunteers"), table(&ds, "Sections"));
    let says = |ds: &Dataset, at| mine_sentence(&ds.table(at).unwrap().def);
    assert_eq!(says(&ds, volunteers), "A volunteer is somebody’s own where it is their own record, the one with their address in mail.");
    let to = |table, mine| Intent::Table(TableChange::Mine { table, mine });
    let none = MineBy { made: false, ..MineBy::default() };
    for who in ["Tamsin", "Bex", "Wren"] {
        assert!(ds.decide(&to(volunteers, none), asker(&ds, who), &clock).is_err(), "{who}");
    }
    // Addresses stand in texts; the people are held by one table.
    let (name, warden) = (field(&ds, "Sections.Name"), field(&ds, "Sections.Warden"));
    assert!(ds.decide(&to(sections, MineBy { own: Some(name), ..none }), nadia, &clock).is_err());
    assert!(ds.decide(&to(sections, MineBy { entered_for: Some(warden), ..none }), nadia, &clock).is_err());
    let moves = Lens::new(&ds, nadia, &clock).rehearse_mine(volunteers, none);
    assert_eq!(moves.says[0], "1 person sees less.");
    let change = act(&mut ds, nadia, &to(volunteers, none)).unwrap().change;
    assert_eq!(says(&ds, volunteers), "No volunteer is anybody’s own.");
    assert_eq!(Lens::new(&ds, wren, &clock).count(volunteers), 0);
    act(&mut ds, nadia, &crate::fixture::undo(change)).unwrap();
    assert_eq!(Lens::new(&ds, wren, &clock).count(volunteers), 1);
}

/// A reach that is set on a table is offered for those that hang on it, along the link.
#[test]
fn a_reach_is_carried_to_the_tables_that_hang_on_it() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let warden = ds.roles().find(|role| role.name == "Warden").unwrap().clone();
    let mut other = warden.clone();
    let (sections, faults) = (table(&ds, "Sections"), table(&ds, "Faults"));
    let easy = test(&[field(&ds, "Sections.Name")], Check::Text { how: TextMatch::Contains, text: "Moss".into() });
    other.tables.get_mut(&sections).unwrap().look = Reach::Where(easy);
    let carries = lens.rehearse_role(warden.id, Some(&other)).carries;
    let said: Vec<&str> = carries.iter().map(|carry| carry.says.as_str()).collect();
    assert_eq!(
        said,
        ["Faults hang on sections by section, and are seen as before. Carried there, it is: faults where section’s name contains “Moss”."]
    );
    // Taken up, nothing is left to be offered.
    other.tables.insert(faults, carries[0].rights.clone());
    assert!(lens.rehearse_role(warden.id, Some(&other)).carries.is_empty());
    assert!(other.check(&ds).is_ok());
}

/// The walk of the rule, link by link, with what was met, and what would let them.
#[test]
fn why_somebody_sees_a_record_or_not_is_told_as_it_was_decided() {
    use westerfall_core::access::{AccessQuestion, AskedOf};
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let told = |who: &dyn Fn(&Dataset) -> AskedOf, right, at: &str, number: u32, of: Option<&str>| {
        let question = AccessQuestion {
            whom: who(&ds),
            right,
            table: table(&ds, at),
            record: crate::fixture::record(number),
            field: of.map(|name| field(&ds, &format!("{at}.{name}"))),
        };
        let why = lens.why_access(question).unwrap();
        let mut lines = vec![why.says];
        for part in why.parts {
            lines.push(format!("  {}: {}", part.says, part.holds));
            for role in part.roles {
                lines.push(format!("    {} {}: {}", role.name, role.says, role.holds));
                lines.extend(role.steps.into_iter().map(|step| format!("      {} – {}: {}", step.says, step.met, step.holds)));
            }
        }
        lines.extend(why.mends.into_iter().map(|mend| format!("  > {mend}")));
        lines.join("\n")
    };
    let named = |who: &'static str| move |ds: &Dataset| AskedOf::Person(crate::fixture::person(ds, who));
    let (tamsin, pavel, wren, nadia) = (named("Tamsin"), named("Pavel"), named("Wren"), named("Nadia"));
    let all = [
        told(&tamsin, Right::Look, "Faults", 1, None),
        told(&tamsin, Right::Change, "Sections", 1, None),
        told(&pavel, Right::Look, "Faults", 1, Some("Reporter’s mail")),
        told(&wren, Right::Look, "Work parties", 1, None),
        told(&wren, Right::Change, "Volunteers", 1, Some("Phone")),
        told(&wren, Right::Change, "Faults", 2, None),
        told(&nadia, Right::Change, "Faults", 1, Some("Due")),
    ];
    insta::assert_snapshot!(all.join("\n\n"));
}

/// A view that is given by itself gives its records in its fields, and nothing else of the tracker by any path.
#[test]
fn a_given_view_gives_its_records_in_its_fields_and_nothing_else() {
    use westerfall_core::view::{GivenRight, View};
    let mut ds = demo();
    let clock = clock();
    let nadia = asker(&ds, "Nadia");
    let (pavel, bex) = (crate::fixture::person(&ds, "Pavel"), crate::fixture::person(&ds, "Bex"));
    // Pavel is in no role any more.
    let mut trustee = ds.roles().find(|role| role.name == "Trustee").unwrap().clone();
    trustee.members.clear();
    act(&mut ds, nadia, &Intent::Save(Part::Role(trustee))).unwrap();
    let (faults, sections) = (table(&ds, "Faults"), table(&ds, "Sections"));
    let view = ds.views().find(|view| view.name == "Blocked or dangerous").unwrap().clone();
    let given = |right: GivenRight| View { given: [(pavel, right)].into(), ..view.clone() };
    assert!(!Asker::Person(pavel).may_look_at(&ds));
    // For stewards alone, and of the team's views alone.
    for who in ["Bex", "Tamsin", "Wren"] {
        assert!(ds.decide(&Intent::Save(given(GivenRight::Look).into()), asker(&ds, who), &clock).is_err(), "{who}");
    }
    let own = View { owner: Some(crate::fixture::person(&ds, "Nadia")), ..given(GivenRight::Look) };
    assert!(ds.decide(&Intent::Make(own.into()), nadia, &clock).is_err());
    let moves = Lens::new(&ds, nadia, &clock).rehearse_giving(&given(GivenRight::Look));
    assert_eq!(moves.says, ["1 person sees more."]);
    act(&mut ds, nadia, &Intent::Save(given(GivenRight::Look).into())).unwrap();
    assert!(Asker::Person(pavel).may_look_at(&ds));
    let looks = |ds: &Dataset| {
        let lens = Lens::new(ds, Asker::Person(pavel), &clock);
        let whole = Lens::of_everything(ds, None, &clock);
        let expected: Vec<RecordId> = records(ds, faults).into_iter().filter(|r| view.query.condition.holds(&whole, faults, *r)).collect();
        assert_eq!(lens.records(faults).collect::<Vec<_>>(), expected);
        assert!(!expected.is_empty() && expected.len() < records(ds, faults).len());
        for def in &ds.table(faults).unwrap().def.fields {
            let shown = view.query.fields.iter().any(|one| one.field == def.id);
            assert_eq!(lens.reads(faults, def.id), shown, "{}", def.name);
            // What it shows is there, computed or not.
            let (told, there) = (lens.text_at(faults, expected[0], def.id), whole.text_at(faults, expected[0], def.id));
            assert_eq!(told, if shown { there } else { String::new() }, "{}", def.name);
        }
        assert!(!lens.opens(sections) && !lens.adds(faults) && !lens.builds());
        assert_eq!(ds.views().filter(|one| lens.knows(one)).map(|one| one.name.as_str()).collect::<Vec<_>>(), ["Blocked or dangerous"]);
        assert!(lens.groundplan(&[]).forms.is_empty());
        expected[0]
    };
    let first = looks(&ds);
    let title = field(&ds, "Faults.What is wrong");
    let hours = field(&ds, "Faults.Hours needed");
    let edit =
        |field, text: &str| Intent::Edit { table: faults, record: first, edits: vec![Edit { field, input: typed(text), was: None }] };
    assert!(ds.decide(&edit(title, "Other"), Asker::Person(pavel), &clock).is_err());
    act(&mut ds, nadia, &Intent::Save(given(GivenRight::Change).into())).unwrap();
    looks(&ds);
    act(&mut ds, Asker::Person(pavel), &edit(hours, "7")).unwrap();
    assert!(ds.decide(&edit(field(&ds, "Faults.Reporter"), "X"), Asker::Person(pavel), &clock).is_err());
    assert!(ds.decide(&Intent::Remove { table: faults, records: vec![first] }, Asker::Person(pavel), &clock).is_err());
    // From now on it is the stewards' to change: builders neither widen it nor take it away, and what narrows it stays.
    let mut builders = ds.roles().find(|role| role.name == "Office").unwrap().clone();
    builders.base = Base::Builder;
    ds.load_part(&Part::Role(builders));
    let wider = View { query: Query { condition: Condition::default(), ..view.query.clone() }, ..given(GivenRight::Change) };
    let bare = View { given: Default::default(), ..view.clone() };
    for intent in [Intent::Save(wider.into()), Intent::Save(bare.into()), Intent::Drop(view.clone().into())] {
        assert!(ds.decide(&intent, Asker::Person(bex), &clock).is_err());
    }
    let severity = field(&ds, "Faults.Severity");
    let change = westerfall_core::intent::FieldChange::Remove(severity);
    assert_eq!(ds.decide(&Intent::Fields { table: faults, change }, nadia, &clock).unwrap_err().0[0].kind, FaultKind::InUse);
    // Whoever leaves has nothing of it.
    let mut people: Vec<_> = ds.people.iter().cloned().collect();
    people.iter_mut().find(|one| one.id == pavel).unwrap().standing = westerfall_core::people::Standing::Left;
    ds.people = std::sync::Arc::new(westerfall_core::people::People::new(people));
    assert!(!Asker::Person(pavel).may_look_at(&ds));
}
