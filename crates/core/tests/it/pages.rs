//! Shared pages: what visitors see, do and are told, and what a page may promise.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    Clock,
    access::{Asker, Heard, Lens, Right},
    condition::{Check, Condition, Who},
    dataset::Dataset,
    face::Face,
    fault::{FaultKind, Faults},
    highlight::{Highlight, Look, Touch},
    id::{FieldId, GuestId, HighlightId, RecordId},
    intent::{Edit, Intent},
    page::{Block, Door, Page, PageAsking, PageRecords, Visitor},
    part::Part,
    people::Actor,
    schema::Hue,
    sentence::as_text,
    value::Value,
    view::Order,
};

const CLERK: GuestId = GuestId::FIRST;

fn page(ds: &Dataset) -> Page {
    ds.pages().next().expect("the demo shares a page").clone()
}

fn at_page(ds: &Dataset) -> Asker {
    Asker::Visitor { page: page(ds).id, guest: Some(CLERK) }
}

fn records_of(page: &mut Page) -> &mut PageRecords {
    page.blocks
        .iter_mut()
        .find_map(|block| if let Block::Records(records) = block { Some(records) } else { None })
        .expect("it shows records")
}

fn put(ds: &mut Dataset, change: impl FnOnce(&mut Page)) -> Result<(), Faults> {
    let mut next = page(ds);
    change(&mut next);
    let nadia = asker(ds, "Nadia");
    act(ds, nadia, &Intent::Save(Part::Page(next))).map(drop)
}

/// What is wrong with the page once it is changed so, in sentences.
fn wrong(change: impl FnOnce(&mut Page)) -> Vec<String> {
    let mut ds = demo();
    put(&mut ds, change).expect_err("it can't stand so").0.into_iter().map(|fault| fault.message).collect()
}

fn visit<T>(ds: &Dataset, guest: Option<GuestId>, does: impl FnOnce(Visitor<'_>) -> T) -> T {
    let clock = clock();
    does(Visitor { ds, page: &page(ds), guest, clock: &clock, team: Face::named("Orrindale Paths Trust") })
}

fn edit(ds: &Dataset, record: RecordId, field: FieldId, text: &str) -> Intent {
    Intent::Edit { table: table(ds, "Faults"), record, edits: vec![Edit { field, input: typed(text), was: None }] }
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
        // Whom it names may all be gone only once it is closed.
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
            let link = section(page);
            records_of(page).changes.insert(link);
        }),
        ["Section can’t be filled in on a page: links, people and files are given by a form."]
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
fn a_view_begins_a_page_without_groups_and_with_orders_by_what_is_shown() {
    let ds = demo();
    let view = ds.views().find(|view| view.name == "To be put right").unwrap();
    let begun = Page::begun(&ds, page(&ds).id, "Shared", Some(view), "shared-words", None);
    let records = begun.records().next().unwrap();
    assert!(records.query.groups.is_empty() && records.query.tallies.is_empty() && !begun.open);
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
