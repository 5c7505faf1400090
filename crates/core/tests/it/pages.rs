//! Shared pages: what visitors see, do and are told, and what a page may promise.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    Clock,
    access::{AccessQuestion, AccessWhy, AskedOf, Asker, Heard, Lens, Right},
    condition::{Check, Condition, Who},
    dataset::Dataset,
    face::Face,
    fault::{FaultKind, Faults},
    highlight::{Highlight, Look, Touch},
    id::{FieldId, GuestId, HighlightId, PersonId, RecordId},
    intent::{Edit, FieldChange, Intent},
    page::{Block, Door, Page, PageAsking, PageNames, PageRecords, Visitor},
    part::Part,
    people::Actor,
    schema::{FieldDef, Hue, Kind},
    sentence::as_text,
    value::{Attachment, Input, Item, Value},
    view::{Order, ShownField},
};

pub(crate) const CLERK: GuestId = GuestId::FIRST;

pub(crate) fn page(ds: &Dataset) -> Page {
    ds.pages().next().expect("the demo shares a page").clone()
}

fn at_page(ds: &Dataset) -> Asker {
    Asker::Visitor { page: page(ds).id, guest: Some(CLERK) }
}

pub(crate) fn records_of(page: &mut Page) -> &mut PageRecords {
    page.blocks
        .iter_mut()
        .find_map(|block| if let Block::Records(records) = block { Some(records) } else { None })
        .expect("it shows records")
}

pub(crate) fn put(ds: &mut Dataset, change: impl FnOnce(&mut Page)) -> Result<(), Faults> {
    let mut next = page(ds);
    change(&mut next);
    let nadia = asker(ds, "Nadia");
    act(ds, nadia, &Intent::Save(Part::Page(next))).map(drop)
}

/// What is wrong with the page once it is changed so, in sentences.
pub(crate) fn wrong(change: impl FnOnce(&mut Page)) -> Vec<String> {
    let mut ds = demo();
    put(&mut ds, change).expect_err("it can't stand so").0.into_iter().map(|fault| fault.message).collect()
}

pub(crate) fn visit<T>(ds: &Dataset, guest: Option<GuestId>, does: impl FnOnce(Visitor<'_>) -> T) -> T {
    let clock = clock();
    does(Visitor { ds, page: &page(ds), guest, clock: &clock, team: Face::named("Orrindale Paths Trust") })
}

fn edit(ds: &Dataset, record: RecordId, field: FieldId, text: &str) -> Intent {
    Intent::Edit { table: table(ds, "Faults"), record, edits: vec![Edit { field, input: typed(text), was: None }] }
}

fn why(ds: &Dataset, whom: AskedOf, right: Right, at: &str, record: RecordId, field: Option<FieldId>) -> AccessWhy {
    let clock = clock();
    let asked = AccessQuestion { whom, right, table: table(ds, at), record, field };
    Lens::new(ds, asker(ds, "Nadia"), &clock).why_access(asked).unwrap()
}

/// What is answered to *why* of a visitor is what their lens decides, of every record and field; whoever was taken back sees nothing.
#[test]
fn why_a_visitor_sees_something_is_the_decision_that_holds() {
    let mut ds = demo();
    let clock = clock();
    for _ in 0..2 {
        for (at, whom) in ["Faults", "Sections"].into_iter().flat_map(|at| [(at, Some(CLERK)), (at, None)]) {
            let whom = AskedOf::Visitor { page: page(&ds).id, guest: whom };
            let AskedOf::Visitor { page, guest } = whom else { continue };
            let lens = Lens::new(&ds, Asker::Visitor { page, guest }, &clock);
            let home = ds.table(table(&ds, at)).unwrap();
            for record in records(&ds, home.def.id).into_iter().take(60) {
                for right in [Right::Look, Right::Change, Right::Remove] {
                    assert_eq!(
                        why(&ds, whom, right, at, record, None).holds,
                        lens.may(right, home.def.id, record),
                        "{right:?} {at} {record}"
                    );
                }
                for def in &home.def.fields {
                    let read = !def.kind.is_computed() || lens.tells_computed(home.def.id, record, def.id);
                    let (shows, takes) = (lens.shows(home.def.id, record, def.id) && read, def.kind.takes_input());
                    assert_eq!(why(&ds, whom, Right::Look, at, record, Some(def.id)).holds, shows, "{} of {record}", def.name);
                    let changes = takes && lens.changes(home.def.id, record, def.id);
                    assert_eq!(why(&ds, whom, Right::Change, at, record, Some(def.id)).holds, changes, "{} of {record}", def.name);
                }
            }
        }
        put(&mut ds, |page| {
            page.open = false;
            page.guests.iter_mut().for_each(|guest| guest.gone = true);
        })
        .unwrap();
    }
}

#[test]
fn why_is_told_of_visitors_and_of_whoever_has_a_forms_link() {
    let mut ds = demo();
    let told = |ds: &Dataset, whom, right, at: &str, number: u32, of: Option<&str>| {
        let why = why(ds, whom, right, at, crate::fixture::record(number), of.map(|name| field(ds, &format!("{at}.{name}"))));
        let mut lines = vec![why.says];
        for part in why.parts {
            lines.push(format!("  {}: {}", part.says, part.holds));
            for source in part.roles {
                lines.push(format!("    {} {}: {}", source.name, source.says, source.holds));
                lines.extend(source.steps.into_iter().map(|step| format!("      {}: {}", step.met, step.holds)));
            }
        }
        lines.extend(why.mends.into_iter().map(|mend| format!("  > {mend}")));
        lines.join("\n")
    };
    let clerk = AskedOf::Visitor { page: page(&ds).id, guest: Some(CLERK) };
    let anybody = AskedOf::Visitor { page: page(&ds).id, guest: None };
    let form = AskedOf::Form(ds.forms().next().unwrap().id);
    let mut all = vec![
        told(&ds, clerk, Right::Look, "Faults", 1, None),
        told(&ds, clerk, Right::Change, "Faults", 2, Some("Parish can help")),
        told(&ds, clerk, Right::Look, "Faults", 2, Some("Reporter’s mail")),
        told(&ds, clerk, Right::Look, "Sections", 1, None),
        told(&ds, anybody, Right::Look, "Faults", 2, None),
        told(&ds, form, Right::Look, "Faults", 2, None),
    ];
    put(&mut ds, |page| page.open = false).unwrap();
    all.push(told(&ds, clerk, Right::Look, "Faults", 2, None));
    insta::assert_snapshot!(all.join("\n\n"));
}

#[test]
fn a_clerk_sees_the_open_faults_of_their_parish_and_no_field_that_is_not_shown() {
    let ds = demo();
    let clock = clock();
    let (faults, lens) = (table(&ds, "Faults"), Lens::new(&ds, at_page(&ds), &clock));
    let whole = Lens::of_everything(&ds, None, &clock);
    let text = |record, path: &str| whole.text_at(faults, record, field(&ds, path));
    let wanted: Vec<RecordId> = whole
        .records(faults)
        .filter(|r| text(*r, "Faults.District") == "Eskermoor" && !["made good", "no action"].contains(&text(*r, "Faults.Status").as_str()))
        .collect();
    assert!(!wanted.is_empty());
    assert_eq!(lens.records(faults).collect::<Vec<_>>(), wanted);
    let shown = ["What is wrong", "Section", "Status", "Due", "Parish can help", "Note from the parish"];
    for def in &ds.table(faults).unwrap().def.fields {
        assert_eq!(lens.reads(faults, def.id), shown.contains(&def.name.as_str()), "{}", def.name);
        assert_eq!(lens.writes(faults, def.id), ["Parish can help", "Note from the parish"].contains(&def.name.as_str()), "{}", def.name);
    }
    // No other table is there, not even the one whose names a link shows.
    for home in ds.tables().filter(|home| home.def.id != faults) {
        assert!(!lens.opens(home.def.id) && lens.count(home.def.id) == 0, "{}", home.def.name);
    }
}

#[test]
fn the_rows_of_a_page_name_what_its_links_show_and_nothing_by_its_number() {
    let ds = demo();
    let rows = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &PageAsking { count: 200, ..PageAsking::default() })).unwrap();
    assert_eq!((rows.total, rows.matching, rows.rows.len()), (rows.total, rows.total, rows.total));
    for row in &rows.rows {
        let section = row.cells[1].as_ref().expect("every fault of the demo lies on a section");
        assert!(section.text.contains(" to "), "{}", section.text);
        assert_eq!(section.value, None);
        assert!(row.change && !row.remove);
    }
    let dues: Vec<&str> = rows.rows.iter().filter_map(|row| Some(row.cells[3].as_ref()?.text.as_str())).collect();
    assert_eq!(dues.len(), rows.total);
}

/// The demo with a page on which the clerk fills in links, people and things to tick off.
pub(crate) fn filled() -> Dataset {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let faults = table(&ds, "Faults");
    for (name, kind) in [("Asked", Kind::Person), ("Helpers", Kind::People), ("To bring", Kind::Checklist), ("Seen at", Kind::Files)] {
        let field = FieldDef::new(FieldId::FIRST, name, kind);
        let change = FieldChange::Add { field, before: None, other: None };
        act(&mut ds, nadia, &Intent::Fields { table: faults, change }).unwrap();
    }
    let fields = ["Asked", "Helpers", "To bring", "Seen at", "Section"].map(|name| field(&ds, &format!("Faults.{name}")));
    let number = field(&ds, "Faults.Number");
    let (section, path) = (fields[4], [field(&ds, "Sections.District")]);
    let near = test(&path, Check::Record { not: false, any: vec![crate::fixture::record(1)] });
    put(&mut ds, |page| {
        let records = records_of(page);
        let new = fields[..4].iter().map(|field| ShownField { field: *field, width: 100 });
        records.query.fields.extend(new);
        records.changes.extend(fields);
        records.offers.insert(section, near.clone());
        records.offers.insert(number, near);
    })
    .unwrap();
    ds
}

/// The first fault that the clerk sees.
fn first(ds: &Dataset) -> RecordId {
    let clock = clock();
    Lens::new(ds, at_page(ds), &clock).records(table(ds, "Faults")).next().unwrap()
}

fn done(ds: &mut Dataset, who: Asker, intent: impl FnOnce(&Dataset) -> Intent) -> westerfall_core::intent::Decision {
    let intent = intent(ds);
    act(ds, who, &intent).unwrap()
}

fn picked(ds: &Dataset, name: &str, value: Value) -> Intent {
    let field = field(ds, &format!("Faults.{name}"));
    let edits = vec![Edit { field, input: Input::Value(value), was: None }];
    Intent::Edit { table: table(ds, "Faults"), record: first(ds), edits }
}

#[test]
fn visitors_choose_for_a_link_what_the_page_offers_and_are_told_those_names_alone() {
    let mut ds = filled();
    let record = first(&ds);
    let (faults, sections, section) = (table(&ds, "Faults"), table(&ds, "Sections"), field(&ds, "Faults.Section"));
    assert!(records_of(&mut page(&ds)).offers.keys().eq([&section]), "what is not filled in is offered nothing");
    let clock = clock();
    let whole = Lens::of_everything(&ds, None, &clock);
    let district = field(&ds, "Sections.District");
    let near = |r: &RecordId| value(&ds, sections, *r, district) == Value::Links(vec![crate::fixture::record(1)]);
    let (offered, others): (Vec<RecordId>, Vec<RecordId>) = records(&ds, sections).into_iter().partition(near);
    let asked = |search: &str, record, field| {
        let asking = PageNames { field, record, search: search.into() };
        visit(&ds, Some(CLERK), |visitor| visitor.offered(1, &asking))
    };
    let names = asked("", Some(record), section).unwrap();
    assert!(!names.is_empty() && names.iter().all(|one| offered.contains(&one.id) && one.beside.is_empty()), "{names:?}");
    let some = names[0].name.split_whitespace().next().unwrap().to_lowercase();
    assert!(asked(&some, None, section).unwrap().iter().any(|one| one.id == names[0].id));
    // Of what is not filled in, of what is no link, and of records out of sight, no name is told.
    let unseen = records(&ds, faults).into_iter().find(|r| !Lens::new(&ds, at_page(&ds), &clock).sees(faults, *r)).unwrap();
    for (record, of) in [(None, "Status"), (None, "Number"), (Some(unseen), "Section")] {
        assert_eq!(asked("", record, field(&ds, &format!("Faults.{of}"))).unwrap_err().kind, FaultKind::NotFound);
    }
    let before = whole.text_at(faults, record, section);
    let told = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &PageAsking { count: 200, ..PageAsking::default() })).unwrap();
    let cell = told.rows.iter().find(|row| row.id == record).unwrap().cells[1].clone().unwrap();
    assert_eq!((cell.text.as_str(), cell.links[0].name.as_str()), (before.as_str(), before.as_str()));
    assert_eq!(
        ds.decide(&picked(&ds, "Section", Value::Links(vec![others[0]])), at_page(&ds), &clock).unwrap_err().0[0].kind,
        FaultKind::NotFound
    );
    // What one saw there is what stands there: no clash with oneself.
    let edit = Edit { field: section, input: Input::Value(Value::Links(vec![offered[0]])), was: cell.value };
    let clerk = at_page(&ds);
    act(&mut ds, clerk, &Intent::Edit { table: faults, record, edits: vec![edit] }).unwrap();
    assert_eq!(value(&ds, faults, record, section), Value::Links(vec![offered[0]]));
}

#[test]
fn people_are_named_by_visitors_and_only_a_whole_name_tells_who_is_meant() {
    let mut ds = filled();
    let (faults, record, clerk) = (table(&ds, "Faults"), first(&ds), at_page(&ds));
    let (asked, helpers) = (field(&ds, "Faults.Asked"), field(&ds, "Faults.Helpers"));
    let tamsin = ds.people.iter().find(|one| one.name.starts_with("Tamsin")).unwrap().clone();
    let says = |ds: &Dataset, who: Asker, of: FieldId| {
        let clock = clock();
        Lens::new(ds, who, &clock).rows(faults, &[record], &[of])[0].cells[0].as_ref().map_or_else(String::new, |cell| cell.text.clone())
    };
    done(&mut ds, clerk, |ds| edit(ds, record, asked, &tamsin.name.to_uppercase()));
    assert_eq!(value(&ds, faults, record, asked), Value::Person(tamsin.id));
    // An address, or half a name, is nobody's to find out by.
    for half in [tamsin.mail.as_str(), "Tamsin"] {
        done(&mut ds, clerk, |ds| edit(ds, record, asked, half));
        assert_eq!(value(&ds, faults, record, asked), Value::Empty);
        assert_eq!(says(&ds, clerk, asked), format!("“{half}”"));
    }
    done(&mut ds, clerk, |ds| edit(ds, record, helpers, &format!("{}; the miller", tamsin.name)));
    assert_eq!(value(&ds, faults, record, helpers), Value::People(vec![tamsin.id]));
    assert_eq!(says(&ds, clerk, helpers), format!("{}, “the miller”", tamsin.name));
    // Both still wait; whoever of the team says who is meant settles the one.
    let nadia = asker(&ds, "Nadia");
    done(&mut ds, nadia, |ds| picked(ds, "Asked", Value::Person(tamsin.id)));
    assert_eq!((says(&ds, nadia, asked), says(&ds, nadia, helpers)), (tamsin.name.clone(), format!("{}, “the miller”", tamsin.name)));
    let undone = done(&mut ds, clerk, |ds| edit(ds, record, helpers, ""));
    assert_eq!(says(&ds, nadia, helpers), "");
    act(&mut ds, nadia, &undo(undone.change)).unwrap();
    assert_eq!(says(&ds, nadia, helpers), format!("{}, “the miller”", tamsin.name));
    for value in [Value::Person(tamsin.id), Value::People(vec![tamsin.id])] {
        let of = if matches!(value, Value::Person(_)) { "Asked" } else { "Helpers" };
        assert_eq!(ds.decide(&picked(&ds, of, value), clerk, &clock()).unwrap_err().0[0].message, "Write the name of whoever you mean.");
    }
}

#[test]
fn things_are_ticked_off_and_files_given_by_visitors() {
    let mut ds = filled();
    let (faults, record, clerk, nadia) = (table(&ds, "Faults"), first(&ds), at_page(&ds), asker(&ds, "Nadia"));
    let (list, files) = (field(&ds, "Faults.To bring"), field(&ds, "Faults.Seen at"));
    let item = |text: &str, done, person: Option<u32>| Item { text: text.into(), done, person: person.and_then(PersonId::new), due: None };
    done(&mut ds, nadia, |ds| picked(ds, "To bring", Value::Checklist([item("spade", false, Some(2))].into())));
    let ticked = Value::Checklist([item("spade", true, Some(2)), item("rope", false, None)].into());
    done(&mut ds, clerk, |ds| picked(ds, "To bring", ticked.clone()));
    assert_eq!(value(&ds, faults, record, list), ticked);
    // Nobody of the team is tried by their number.
    let tried = Value::Checklist([item("spade", true, Some(3))].into());
    assert_eq!(ds.decide(&picked(&ds, "To bring", tried), clerk, &clock()).unwrap_err().0[0].kind, FaultKind::WrongKind);
    let photo = Attachment { id: "abc".into(), name: "gate.jpg".into(), media: "image/jpeg".into(), size: 9 };
    let given = |input| Intent::Edit { table: faults, record, edits: vec![Edit { field: files, input, was: None }] };
    act(&mut ds, clerk, &given(Input::Upload(vec![photo.clone()]))).unwrap();
    assert_eq!(value(&ds, faults, record, files), Value::Files([photo.clone()].into()));
    assert!(ds.decide(&given(Input::Value(Value::Files([Attachment { id: "made up".into(), ..photo }].into()))), clerk, &clock()).is_err());
}

#[test]
fn what_is_not_shown_is_neither_asked_for_nor_put_in_order_by() {
    let ds = demo();
    let reporter = field(&ds, "Faults.Reporter’s mail");
    let hidden = [
        PageAsking { condition: test(&[reporter], Check::Filled), count: 9, ..PageAsking::default() },
        PageAsking {
            condition: test(&[field(&ds, "Faults.Section"), field(&ds, "Sections.Name")], Check::Filled),
            count: 9,
            ..PageAsking::default()
        },
    ];
    for asking in hidden {
        let Faults(faults) = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &asking)).unwrap_err();
        assert_eq!(faults[0].message, "This rule names a field that is not there, or is not open to you.");
    }
    let as_it_is = PageAsking { count: 200, ..PageAsking::default() };
    let by_hidden = PageAsking { sorts: vec![Order { field: reporter, descending: true }], ..as_it_is.clone() };
    let ids = |asking: &PageAsking| -> Vec<RecordId> {
        visit(&ds, Some(CLERK), |visitor| visitor.rows(1, asking)).unwrap().rows.iter().map(|row| row.id).collect()
    };
    let mut made = ids(&as_it_is);
    made.sort_unstable();
    assert_eq!(ids(&by_hidden), made, "an order by what is hidden is none");
    assert_eq!(visit(&ds, Some(CLERK), |visitor| visitor.rows(2, &as_it_is)).unwrap_err().0[0].kind, FaultKind::NotFound);
}

#[test]
fn the_clerk_fills_in_two_fields_and_the_trail_names_page_and_address() {
    let mut ds = demo();
    let asker = at_page(&ds);
    let faults = table(&ds, "Faults");
    let clock = clock();
    let seen: Vec<RecordId> = Lens::new(&ds, asker, &clock).records(faults).collect();
    let unseen = records(&ds, faults).into_iter().find(|r| !seen.contains(r)).unwrap();
    let (note, title, mail) =
        (field(&ds, "Faults.Note from the parish"), field(&ds, "Faults.What is wrong"), field(&ds, "Faults.Reporter’s mail"));
    let written = edit(&ds, seen[0], note, "two of us are free");
    let done = act(&mut ds, asker, &written).unwrap();
    assert_eq!(done.change.who, Actor::Visitor { page: page(&ds).id, guest: Some(CLERK) });
    let kind = |record, field, text: &str| ds.decide(&edit(&ds, record, field, text), asker, &clock).unwrap_err().0[0].kind;
    assert_eq!(kind(seen[0], title, "Another title"), FaultKind::NotAllowed);
    assert_eq!(kind(seen[0], mail, "me@there.example"), FaultKind::NotFound);
    assert_eq!(kind(unseen, note, "who sees this?"), FaultKind::NotFound);
    let nadia = crate::fixture::asker(&ds, "Nadia");
    let trail = Lens::new(&ds, nadia, &clock).trail(faults, seen[0], std::slice::from_ref(&done.change));
    assert_eq!(trail[0].who, "clerk@eskermoor-parish.example, by the page “Path faults in Eskermoor parish”");
    act(&mut ds, nadia, &undo(done.change)).unwrap();
    assert_eq!(value(&ds, faults, seen[0], note), Value::Empty);
}

#[test]
fn a_page_that_is_closed_over_or_another_guests_gives_nothing() {
    let clock = clock();
    let gives = |ds: &Dataset, guest: Option<GuestId>, clock: &Clock| {
        Lens::new(ds, Asker::Visitor { page: page(ds).id, guest }, clock).count(table(ds, "Faults"))
    };
    let ds = demo();
    assert!(gives(&ds, Some(CLERK), &clock) > 0);
    assert_eq!(gives(&ds, None, &clock), 0, "it is for named addresses");
    assert_eq!(gives(&ds, GuestId::new(7), &clock), 0);
    let changes: [fn(&mut Page); 3] =
        [|page| page.open = false, |page| page.guests[0].gone = true, |page| page.until = Some("2026-11-22".parse().unwrap())];
    for (n, change) in changes.into_iter().enumerate() {
        let mut ds = demo();
        // AskedOf it names may all be gone only once it is closed.
        put(&mut ds, |page| {
            change(page);
            page.open &= n != 1;
        })
        .unwrap();
        assert_eq!(gives(&ds, Some(CLERK), &clock), 0);
        assert!(!at_page(&ds).may_look_at(&ds) || n == 2);
    }
    // The day passes by itself.
    let later = Clock { now: "2027-09-01T09:00:00Z".parse().unwrap(), ..clock };
    assert_eq!(gives(&ds, Some(CLERK), &later), 0);
}

#[test]
fn an_open_screen_is_told_once_the_page_is_another() {
    let before = demo();
    let mut after = demo();
    let mut next = page(&after);
    records_of(&mut next).changes.clear();
    let nadia = asker(&after, "Nadia");
    let done = act(&mut after, nadia, &Intent::Save(Part::Page(next))).unwrap();
    let clock = clock();
    let heard =
        |who: Asker| Heard::of(Some(&done.change), &Default::default(), &Lens::new(&before, who, &clock), &Lens::new(&after, who, &clock));
    assert!(heard(at_page(&before)).is_some_and(|heard| heard.access && !heard.structure));
    assert!(heard(nadia).is_some_and(|heard| heard.structure));
    assert!(heard(asker(&before, "Tamsin")).is_none(), "whom it does not concern hears nothing of it");
}

#[test]
fn only_stewards_share() {
    let mut ds = demo();
    for who in ["Bex", "Tamsin", "Wren", "Pavel"] {
        let who = asker(&ds, who);
        for intent in [Intent::Save(Part::Page(page(&ds))), Intent::Drop(Part::Page(page(&ds))), Intent::Make(Part::Page(page(&ds)))] {
            assert_eq!(act(&mut ds, who, &intent).unwrap_err().0[0].kind, FaultKind::NotAllowed);
        }
    }
    assert!(ds.decide(&Intent::Save(Part::Page(page(&ds))), at_page(&ds), &clock()).is_err());
}

#[test]
fn a_page_promises_nothing_that_would_be_refused() {
    let section = |page: &mut Page| records_of(page).query.fields[1].field;
    assert_eq!(
        wrong(|page| {
            let due = records_of(page).query.fields[3].field;
            records_of(page).changes.insert(due);
        }),
        ["Due can’t be filled in on a page: it is computed, or kept at the records on its other side."]
    );
    // What is offered for a link that is not filled in is let go; what is asked of its records has to be theirs.
    assert_eq!(
        wrong(|page| {
            let link = section(page);
            records_of(page).changes.insert(link);
            records_of(page).offers.insert(link, test(&[link], Check::Filled));
        }),
        ["This rule names a field that is not there any more."]
    );
    assert_eq!(
        wrong(|page| {
            records_of(page).query.fields.pop();
        }),
        ["Visitors can fill in what they see alone, and note from the parish is not shown."]
    );
    assert_eq!(
        wrong(|page| {
            records_of(page).query.fields.retain(|shown| shown.field.get() != 49);
        }),
        ["The order tells of due, which is not shown. Show it, or put the records in order by something else."]
    );
    assert_eq!(
        wrong(|page| records_of(page).adds = true),
        ["Whoever adds a fault has to say “What is wrong”: let them fill that in, or take a form."]
    );
    assert_eq!(
        wrong(|page| page.embed = vec!["https://parish.example".into()]),
        ["Within another site nobody can say who they are: such a page is for anybody who has the link."]
    );
    assert_eq!(wrong(|page| page.guests.clear()), ["Name at least one address that comes in."]);
    assert_eq!(wrong(|page| page.link = "no".into()), ["The address takes small letters, digits and hyphens, from 3 to 60 of them."]);
    assert_eq!(
        wrong(|page| page.guests[0].mail = "nobody".into()),
        ["This is not a mail address. It should look like name@place.example."]
    );
}

#[test]
fn me_means_nobody_outside_and_my_address_only_where_it_is_known() {
    let ds = demo();
    let warden = test(&[field(&ds, "Faults.Warden")], Check::Person { not: false, any: vec![Who::Me] });
    assert_eq!(
        wrong(|page| records_of(page).query.condition = warden),
        ["Visitors are nobody of the team, so that “me” means none of them. “My address” and “my record” do."]
    );
    let own = test(&[field(&ds, "Faults.Reporter’s mail")], Check::MyAddress { not: false });
    let anybody = |page: &mut Page| {
        records_of(page).query.condition = own.clone();
        page.door = Door::Link;
    };
    assert_eq!(
        wrong(anybody),
        ["This page does not know who comes: “my address” and “my record” mean somebody only where it names the addresses."]
    );
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let nadia = asker(&ds, "Nadia");
    put(&mut ds, |page| records_of(page).query.condition = own.clone()).unwrap();
    let clock = clock();
    let asker = at_page(&ds);
    assert_eq!(Lens::new(&ds, asker, &clock).count(faults), 0);
    let written = edit(&ds, record(5), field(&ds, "Faults.Reporter’s mail"), "Clerk@Eskermoor-Parish.example");
    act(&mut ds, nadia, &written).unwrap();
    assert_eq!(Lens::new(&ds, asker, &clock).records(faults).collect::<Vec<_>>(), [record(5)]);
}

#[test]
fn what_is_added_on_a_page_is_one_of_those_that_it_shows() {
    let mut ds = demo();
    put(&mut ds, |page| {
        let records = records_of(page);
        records.adds = true;
        records.removes = true;
        let title = records.query.fields[0].field;
        records.changes.insert(title);
    })
    .unwrap();
    let faults = table(&ds, "Faults");
    let add = Intent::Add { table: faults, records: vec![vec![(field(&ds, "Faults.What is wrong"), typed("A stile is gone"))]] };
    let asker = at_page(&ds);
    // Nothing that a visitor can say puts it into their parish.
    let refused = act(&mut ds, asker, &add).unwrap_err().0.remove(0);
    assert_eq!(refused.message, "You would not see this fault. Ask the tracker’s steward what you may add.");
    put(&mut ds, |page| records_of(page).query.condition = Condition::default()).unwrap();
    let added = act(&mut ds, asker, &add).unwrap().added[0];
    let clock = clock();
    let lens = Lens::new(&ds, asker, &clock);
    assert!(lens.may(Right::Remove, faults, added));
    assert_eq!(lens.text_at(faults, added, field(&ds, "Faults.Status")), "reported");
    act(&mut ds, asker, &Intent::Remove { table: faults, records: vec![added] }).unwrap();
}

#[test]
fn a_page_reads_back_for_whoever_shares_it_and_for_whoever_comes() {
    let ds = demo();
    let clock = clock();
    let nadia = asker(&ds, "Nadia");
    let lens = Lens::new(&ds, nadia, &clock);
    let sentences = page(&ds).to_sentences(&lens);
    let mut told = vec![as_text(&sentences.door)];
    told.extend(sentences.blocks.iter().map(|phrases| as_text(phrases)));
    told.push(visit(&ds, Some(CLERK), |visitor| as_text(&visitor.front().greeting)));
    let open = |change: fn(&mut Page)| {
        let mut ds = demo();
        put(&mut ds, |page| {
            page.door = Door::Link;
            change(page);
        })
        .unwrap();
        let clock = crate::fixture::clock();
        let mut told = vec![as_text(&page(&ds).to_sentences(&Lens::new(&ds, asker(&ds, "Nadia"), &clock)).door)];
        told.push(visit(&ds, None, |visitor| as_text(&visitor.front().greeting)));
        told
    };
    told.extend(open(|page| {
        page.embed = vec!["https://parish.example".into()];
        page.blocks.pop();
        records_of(page).changes.clear();
    }));
    told.extend(open(|page| {
        let records = records_of(page);
        records.changes.insert(records.query.fields[0].field);
        (records.adds, records.removes) = (true, true);
        page.by = None;
    }));
    insta::assert_snapshot!(told.join("\n"));
}

#[test]
fn a_form_that_takes_no_answers_is_not_promised() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let form = ds.forms().find(|form| form.title == "Report a path fault").unwrap().clone();
    act(&mut ds, nadia, &Intent::Save(Part::Form(westerfall_core::form::Form { open: false, ..form }))).unwrap();
    let greeting = visit(&ds, Some(CLERK), |visitor| as_text(&visitor.front().greeting));
    assert!(greeting.contains("fill in") && !greeting.contains("send in"), "{greeting}");
}

#[test]
fn whoever_leaves_hands_over_the_pages_whose_visitors_turn_to_them() {
    let ds = demo();
    let clock = clock();
    let (nadia, bex) = (person(&ds, "Nadia"), person(&ds, "Bex"));
    let held = Lens::of_everything(&ds, None, &clock).held_by(nadia);
    let page = held.into_iter().find(|one| one.words == "1 page: Path faults in Eskermoor parish").expect("a page hangs on her");
    let mut after = ds.clone();
    let hand = westerfall_core::intent::HandOver { from: nadia, by: bex, to: vec![(page.held, bex)] };
    act(&mut after, Asker::Westerfall, &Intent::HandOver(hand)).unwrap();
    assert_eq!(self::page(&after).by, Some(bex));
}

#[test]
fn what_a_change_of_a_page_would_do_is_said_before_it_holds() {
    let ds = demo();
    let clock = clock();
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let now = page(&ds);
    let moves = |change: &dyn Fn(&mut Page)| {
        let mut next = now.clone();
        change(&mut next);
        next.moves_from(Some(&now), &lens).join(" ")
    };
    assert_eq!(moves(&|_| {}), "");
    let all = moves(&|page| records_of(page).query.condition = Condition::default());
    assert!(all.starts_with("Visitors see ") && all.ends_with(" faults."), "{all}");
    let fewer = moves(&|page| {
        records_of(page).query.fields.truncate(5);
        let helps = records_of(page).query.fields[4].field;
        records_of(page).changes = [helps].into();
    });
    assert_eq!(fewer, "Visitors no longer read note from the parish and no longer fill in note from the parish.");
    assert!(moves(&|page| page.open = false).starts_with("Visitors no longer see "));
}

#[test]
fn what_a_page_names_holds_a_field_by_which_it_is_narrowed_and_lets_go_of_one_it_shows() {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let nadia = asker(&ds, "Nadia");
    let uses = ds.uses(faults, field(&ds, "Faults.Status"));
    assert!(uses.iter().any(|one| one.holds && one.name == "Path faults in Eskermoor parish"));
    let change = westerfall_core::intent::FieldChange::Remove(field(&ds, "Faults.Note from the parish"));
    act(&mut ds, nadia, &Intent::Fields { table: faults, change }).unwrap();
    let mut now = page(&ds);
    assert_eq!(records_of(&mut now).query.fields.len(), 5);
    assert_eq!(records_of(&mut now).changes.len(), 1);
}

#[test]
fn a_form_on_a_page_is_for_strangers() {
    let form = demo().forms().find(|form| form.title.contains("Order")).unwrap().clone();
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let team = westerfall_core::form::Form { audience: westerfall_core::form::Audience::Team, ..form.clone() };
    act(&mut ds, nadia, &Intent::Save(Part::Form(team))).unwrap();
    let refused = put(&mut ds, |page| page.blocks.push(Block::Form(form.id))).unwrap_err();
    assert_eq!(refused.0[0].message, "“Order materials for a job” is for people of the team, and visitors of this page are not signed in.");
}

#[test]
fn a_view_begins_a_page_that_is_closed_and_stands_by_what_is_shown() {
    let ds = demo();
    let view = ds.views().find(|view| view.name == "To be put right").unwrap();
    let begun = Page::begun(&ds, page(&ds).id, "Shared", Some(view), "shared-words", None);
    let records = begun.records().next().unwrap();
    let shown: Vec<FieldId> = records.query.fields.iter().map(|shown| shown.field).collect();
    assert!(!view.query.groups.is_empty() && !begun.open);
    assert_eq!(records.query.groups, view.query.groups.iter().filter(|group| shown.contains(&group.field)).copied().collect::<Vec<_>>());
    assert_eq!(records.query.tallies, view.query.tallies.iter().filter(|tally| shown.contains(&tally.field)).copied().collect::<Vec<_>>());
    assert_eq!(records.query.condition, view.query.condition);
    assert_eq!(records.query.sorts, view.query.sorts);
    assert!(begun.check(&ds).is_ok());
}

/// Fields that are shown, fields that are filled in, and a condition.
fn any_page() -> impl Strategy<Value = (Vec<FieldId>, Vec<FieldId>, Condition)> {
    let ds = demo();
    let all: Vec<FieldId> = ds.table(table(&ds, "Faults")).unwrap().def.fields.iter().map(|def| def.id).collect();
    let most = all.len();
    let few =
        ["What is wrong", "Status", "Parish can help", "Note from the parish", "Hours needed"].map(|n| field(&ds, &format!("Faults.{n}")));
    let fills = prop::sample::subsequence(few.to_vec(), 0..=few.len());
    (prop::sample::subsequence(all, 1..=most), fills, any_condition())
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 60, ..ProptestConfig::default() })]

    /// Whatever a page is made of: what it shows are the records for which its condition holds over everything, in the fields that
    /// it shows with the texts that stand there, and what it takes is what it says.
    #[test]
    fn a_page_gives_just_what_it_says((shown, fills, condition) in any_page()) {
        let mut ds = demo();
        let says_me = condition.tests().iter().any(|test| matches!(&test.check, Check::Person { any, .. } if any.contains(&Who::Me)));
        let fills: Vec<FieldId> = fills.into_iter().filter(|field| shown.contains(field)).collect();
        let saved = put(&mut ds, |page| {
            let records = records_of(page);
            records.query.condition = condition.clone();
            records.query.sorts.clear();
            records.query.fields = shown.iter().map(|field| westerfall_core::view::ShownField { field: *field, width: 100 }).collect();
            records.changes = fills.iter().copied().collect();
        });
        if says_me || condition.check(&ds, table(&ds, "Faults")).is_err() {
            prop_assert!(saved.is_err());
            return Ok(());
        }
        saved.unwrap();
        let faults = table(&ds, "Faults");
        let clock = clock();
        let (whole, lens) = (Lens::of_everything(&ds, None, &clock), Lens::new(&ds, at_page(&ds), &clock));
        let wanted: Vec<RecordId> = whole.records(faults).filter(|r| condition.holds(&whole, faults, *r)).collect();
        let rows = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &PageAsking { count: 200, ..PageAsking::default() })).unwrap();
        prop_assert_eq!(rows.rows.iter().map(|row| row.id).collect::<Vec<_>>(), wanted.clone());
        for row in &rows.rows {
            for (field, cell) in shown.iter().zip(&row.cells) {
                prop_assert_eq!(cell.as_ref().map_or("", |cell| &cell.text), whole.text_at(faults, row.id, *field));
            }
        }
        let note = field(&ds, "Faults.Note from the parish");
        for record in records(&ds, faults).into_iter().step_by(17) {
            prop_assert_eq!(lens.sees(faults, record), wanted.contains(&record));
            let takes = ds.decide(&edit(&ds, record, note, "a word"), at_page(&ds), &clock).is_ok();
            prop_assert_eq!(takes, wanted.contains(&record) && fills.contains(&note));
        }
    }
}

#[test]
fn records_on_a_page_look_as_their_highlights_say_but_for_those_that_ask_what_is_hidden() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let faults = table(&ds, "Faults");
    let shown = page(&ds).records().next().unwrap().query.fields[0].field;
    let hidden = field(&ds, "Faults.Reporter");
    for asks in [shown, hidden] {
        let touch = Touch::whole(Look { bold: true, edge: Some(Hue::Fern), ..Look::default() });
        let one = Highlight::new(HighlightId::FIRST, faults, test(&[asks], Check::Filled), vec![touch]);
        let one = ds.drafted_highlight(faults, None, one);
        act(&mut ds, nadia, &Intent::Make(one.into())).unwrap();
    }
    let count = u32::try_from(ds.highlights_of(faults).len()).unwrap();
    let asking = PageAsking { count: 20, ..PageAsking::default() };
    let rows = visit(&ds, Some(CLERK), |visitor| visitor.rows(1, &asking)).unwrap().rows;
    assert!(!rows.is_empty());
    for row in rows {
        let by = row.looks.map(|looks| looks.by).unwrap_or_default();
        assert_eq!((by.contains(&(count - 1)), by.contains(&count)), (true, false), "{by:?}");
    }
}
