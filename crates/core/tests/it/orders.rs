//! A view's own order: where somebody put records by hand, kept beside the view.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Heard, Lens},
    bulk::Duplicate,
    condition::Condition,
    dataset::Dataset,
    document::PaperShows,
    fault::FaultKind,
    id::{RecordId, ViewId},
    intent::{Edit, Intent, OrderStep},
    pack::Packing,
    schema::Recipe,
    sentence::as_text,
    value::Value,
    view::{Order, Query, Spot, View, Window},
};

fn view_of(ds: &Dataset, name: &str) -> View {
    ds.views().find(|view| view.name == name).expect("a view of the demo").clone()
}

/// The records of a view as somebody sees them in its own order.
fn seen(ds: &Dataset, who: Asker, view: &View) -> Vec<RecordId> {
    let clock = clock();
    let lens = Lens::new(ds, who, &clock);
    view.query.run(&lens, view.table, &Window { rows: 0..usize::MAX, keep: &[], own: lens.own_order(view.id) }).window
}

fn put(view: ViewId, records: &[RecordId], spot: Spot) -> Intent {
    Intent::Order { view, step: OrderStep::Place { records: records.to_vec(), spot, edits: Vec::new() } }
}

fn refused(ds: &Dataset, who: &str, intent: &Intent) -> (FaultKind, String, String) {
    let fault = ds.decide(intent, asker(ds, who), &clock()).unwrap_err().0.remove(0);
    (fault.kind, fault.pointer, fault.message)
}

fn sentence(ds: &Dataset, view: &View) -> String {
    let clock = clock();
    let lens = Lens::new(ds, asker(ds, "Nadia"), &clock);
    as_text(&view.query.to_sentence(&lens, view.table, 9, 9, lens.own_order(view.id)))
}

#[test]
fn a_record_is_put_first_last_or_beside_another_and_the_rest_stays() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = view_of(&ds, "All material lines");
    let flat = View { query: Query { groups: Vec::new(), ..view.query.clone() }, ..view.clone() };
    let before = seen(&ds, nadia, &flat);
    let (first, second, last) = (before[0], before[1], before[before.len() - 1]);
    let done = act(&mut ds, nadia, &put(view.id, &[last], Spot::First)).unwrap();
    assert_eq!(done.change.ops.len(), 1, "one rank is written, and no record is changed");
    let mut wanted = [&[last], &before[..before.len() - 1]].concat();
    assert_eq!(seen(&ds, nadia, &flat), wanted);
    let told = done.change.in_words(&Lens::new(&ds, nadia, &clock()));
    assert!(told.starts_with("moved the ") && told.ends_with(" within “All material lines”"), "{told}");
    act(&mut ds, nadia, &put(view.id, &[second], Spot::Before(first))).unwrap();
    wanted.swap(1, 2);
    assert_eq!(seen(&ds, nadia, &flat), wanted);
    assert!(sentence(&ds, &flat).contains(", in its own order, "), "{}", sentence(&ds, &flat));
    // A new one is last.
    let add = Intent::Add { table: view.table, records: vec![vec![]] };
    let added = act(&mut ds, nadia, &add).unwrap().added[0];
    assert_eq!(seen(&ds, nadia, &flat).last(), Some(&added));
    // Forgotten, everything stands by its number again.
    act(&mut ds, nadia, &Intent::Order { view: view.id, step: OrderStep::Forget }).unwrap();
    assert_eq!(seen(&ds, nadia, &flat), [&before[..], &[added]].concat());
    assert!(!sentence(&ds, &flat).contains("own order"));
}

#[test]
fn it_rests_under_a_sort_and_is_begun_from_one() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = view_of(&ds, "All faults");
    let all = seen(&ds, nadia, &view);
    let (kind, at, message) = refused(&ds, "Nadia", &put(view.id, &all[1..2], Spot::First));
    assert_eq!((kind, at.as_str()), (FaultKind::BadRule, "/spot"));
    assert!(message.starts_with("“All faults” is sorted"), "{message}");
    let due = Order { field: field(&ds, "Faults.Due"), descending: false };
    let by_due = View { query: Query { sorts: vec![due], ..view.query.clone() }, ..view.clone() };
    let wanted = seen(&ds, nadia, &by_due);
    let done = act(&mut ds, nadia, &Intent::Order { view: view.id, step: OrderStep::Begin { sorts: vec![due] } }).unwrap();
    let now = ds.view(view.id).unwrap().clone();
    assert_eq!(now.query.sorts, []);
    assert_eq!(seen(&ds, nadia, &now), wanted);
    // A sort that somebody looks through does not touch it.
    assert_eq!(seen(&ds, nadia, &view), all);
    let moved = wanted[40];
    act(&mut ds, nadia, &put(view.id, &[moved], Spot::After(wanted[2]))).unwrap();
    assert_eq!(seen(&ds, nadia, &now)[3], moved);
    // One step takes both back: the sort stands again.
    let mut then = ds.clone();
    let last = ds.decide(&undo(done.change.clone()), nadia, &clock()).unwrap_err().0.remove(0);
    assert_eq!(last.kind, FaultKind::Clash, "somebody has put one elsewhere since");
    act(&mut then, nadia, &Intent::Order { view: view.id, step: OrderStep::Forget }).unwrap();
    assert_eq!(seen(&then, nadia, &now), {
        let mut by_number = all.clone();
        by_number.sort();
        by_number
    });
}

#[test]
fn another_lane_and_a_place_in_it_are_one_step() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = view_of(&ds, "From report to repair");
    let status = field(&ds, "Faults.Status");
    let begin = Intent::Order { view: view.id, step: OrderStep::Begin { sorts: Vec::new() } };
    let before = seen(&ds, nadia, &view);
    act(&mut ds, nadia, &begin).unwrap();
    assert_eq!(seen(&ds, nadia, &view), before, "begun as it stood: longest there first");
    let checked = option(&ds, "Faults.Status.checked");
    let of = |ds: &Dataset, record: &RecordId| value(ds, view.table, *record, status);
    let target = *before.iter().find(|record| of(&ds, record) == Value::Choice(checked)).unwrap();
    let moved = before[0];
    assert_ne!(of(&ds, &moved), Value::Choice(checked));
    let edits = vec![Edit { field: status, input: typed("checked"), was: Some(of(&ds, &moved)) }];
    let step = OrderStep::Place { records: vec![moved], spot: Spot::After(target), edits };
    let done = act(&mut ds, nadia, &Intent::Order { view: view.id, step }).unwrap();
    let now = seen(&ds, nadia, &view);
    let at = now.iter().position(|record| *record == target).unwrap();
    assert_eq!(now[at + 1], moved);
    act(&mut ds, nadia, &undo(done.change)).unwrap();
    assert_eq!(seen(&ds, nadia, &view), before);
    // What the lane holds already by somebody else's hand is a clash, and nothing is moved.
    let wrong = Edit { field: status, input: typed("checked"), was: Some(Value::Choice(checked)) };
    let step = OrderStep::Place { records: vec![moved], spot: Spot::First, edits: vec![wrong] };
    assert_eq!(refused(&ds, "Nadia", &Intent::Order { view: view.id, step }).0, FaultKind::Clash);
}

#[test]
fn only_whoever_may_change_the_view_puts_it_in_order() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = view_of(&ds, "From report to repair");
    for who in ["Bex", "Pavel", "Tamsin"] {
        let (kind, _, message) = refused(&ds, who, &put(view.id, &[record(3)], Spot::First));
        assert!(matches!(kind, FaultKind::NotAllowed | FaultKind::NotFound), "{who}: {message}");
    }
    let calendar = view_of(&ds, "Who is out when");
    assert_eq!(refused(&ds, "Nadia", &put(calendar.id, &[record(3)], Spot::First)).0, FaultKind::BadRule);
    assert_eq!(refused(&ds, "Nadia", &put(view.id, &[record(3)], Spot::Before(record(90_000)))).1, "/spot");
    assert_eq!(refused(&ds, "Nadia", &put(view.id, &[record(90_000)], Spot::First)).1, "/records");
    let many: Vec<RecordId> = (1..=10_001).map(record).collect();
    assert_eq!(refused(&ds, "Nadia", &put(view.id, &many, Spot::First)).0, FaultKind::TooLong);
    act(&mut ds, nadia, &Intent::Save(View { locked: true, ..view.clone() }.into())).unwrap();
    assert!(refused(&ds, "Nadia", &put(view.id, &[record(3)], Spot::First)).2.contains("is locked"));
    // One's own is one's own, within one's reach.
    let tamsin = asker(&ds, "Tamsin");
    let own = View { owner: Some(person(&ds, "Tamsin")), given: [].into(), name: "Mine".into(), locked: false, ..view.clone() };
    let made = act(&mut ds, tamsin, &Intent::Make(own.into())).unwrap().made.unwrap();
    let mine = ds.view(ViewId::new(made).unwrap()).unwrap().clone();
    let reach = seen(&ds, tamsin, &mine);
    act(&mut ds, tamsin, &put(mine.id, &reach[reach.len() - 1..], Spot::First)).unwrap();
    let clock = clock();
    let elsewhere = Lens::new(&ds, tamsin, &clock);
    let beyond = Lens::new(&ds, nadia, &clock).records(view.table).find(|record| !elsewhere.sees(view.table, *record)).unwrap();
    assert_eq!(refused(&ds, "Tamsin", &put(mine.id, &[beyond], Spot::First)).0, FaultKind::NotFound);
    assert_eq!(refused(&ds, "Tamsin", &put(mine.id, &reach[..1], Spot::After(beyond))).0, FaultKind::NotFound);
    assert_eq!(refused(&ds, "Bex", &put(mine.id, &reach[..1], Spot::First)).0, FaultKind::NotFound);
}

#[test]
fn others_hear_of_a_move_as_far_as_they_see_what_moved() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let tamsin = asker(&ds, "Tamsin");
    let view = view_of(&ds, "From report to repair");
    let clock = clock();
    let hers = Lens::new(&ds, tamsin, &clock);
    let all = || Lens::new(&ds, nadia, &clock).records(view.table).collect::<Vec<_>>();
    let within = all().into_iter().find(|record| hers.sees(view.table, *record)).unwrap();
    let beyond = all().into_iter().find(|record| !hers.sees(view.table, *record)).unwrap();
    let heard = |who: Asker, moved: RecordId| {
        let mut after = ds.clone();
        let change = act(&mut after, nadia, &put(view.id, &[moved], Spot::First)).unwrap().change;
        let mut again = ds.clone();
        let recomputed = again.apply(&change);
        Heard::of(Some(&change), &recomputed, &Lens::new(&ds, who, &clock), &Lens::new(&after, who, &clock))
    };
    assert!(heard(nadia, beyond).is_some_and(|heard| heard.records[&view.table].contains(&beyond)));
    assert!(heard(tamsin, within).is_some_and(|heard| heard.records[&view.table].contains(&within)));
    assert_eq!(heard(tamsin, beyond), None);
}

#[test]
fn it_goes_and_comes_back_with_its_view_and_along_with_a_copy() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let view = view_of(&ds, "All material lines");
    let last = *seen(&ds, nadia, &view).last().unwrap();
    act(&mut ds, nadia, &put(view.id, &[last], Spot::First)).unwrap();
    // One in the bin is left out of a copy, so that the rest is numbered anew.
    act(&mut ds, nadia, &Intent::Remove { table: view.table, records: vec![record(1)] }).unwrap();
    let ordered = seen(&ds, nadia, &view);
    let clock = clock();
    let pack = Lens::new(&ds, nadia, &clock).pack(Packing::Records).unwrap();
    let def = (*ds.tracker).clone();
    let mut copy = Dataset::empty(def, ds.people.clone());
    let unpack = Intent::Unpack { pack: Box::new(pack), by: None };
    act(&mut copy, Asker::Westerfall, &unpack).unwrap();
    let shifted: Vec<u32> = ordered.iter().map(|record| record.get() - 1).collect();
    assert_eq!(seen(&copy, Asker::Westerfall, &view).iter().map(|record| record.get()).collect::<Vec<_>>(), shifted);
    let gone = act(&mut ds, nadia, &Intent::Drop(view.clone().into())).unwrap();
    act(&mut ds, nadia, &undo(gone.change)).unwrap();
    assert_eq!(seen(&ds, nadia, &view), ordered);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    /// Whatever is put wherever, taken back in turn it is as it was, and done again as it became.
    #[test]
    fn every_step_is_taken_back(
        moves in prop::collection::vec((prop::collection::vec(0_usize..40, 1..5), 0_usize..40, 0_u8..4), 1..12),
    ) {
        let mut ds = demo();
        let nadia = asker(&ds, "Nadia");
        let view = view_of(&ds, "All material lines");
        let flat = View { query: Query { groups: Vec::new(), ..view.query.clone() }, ..view };
        let all = seen(&ds, nadia, &flat);
        let mut steps = vec![(all.clone(), None)];
        for (moved, beside, spot) in moves {
            let records: Vec<RecordId> = moved.into_iter().map(|at| all[at]).collect();
            let spot = match spot {
                0 => Spot::First,
                1 => Spot::Last,
                2 => Spot::Before(all[beside]),
                _ => Spot::After(all[beside]),
            };
            let done = act(&mut ds, nadia, &put(flat.id, &records, spot)).unwrap();
            steps.push((seen(&ds, nadia, &flat), Some(done.change)));
        }
        let mut undone = Vec::new();
        while let Some((stood, Some(change))) = steps.pop() {
            prop_assert_eq!(seen(&ds, nadia, &flat), stood.clone());
            undone.push((stood, act(&mut ds, nadia, &undo(change)).unwrap().change));
        }
        prop_assert_eq!(seen(&ds, nadia, &flat), all);
        for (stood, change) in undone.into_iter().rev() {
            act(&mut ds, nadia, &undo(change)).unwrap();
            prop_assert_eq!(seen(&ds, nadia, &flat), stood);
        }
    }
}

/// While somebody drags, a lane’s option is removed: the drop is refused in words, and nothing of it is done.
#[test]
fn a_drop_into_a_lane_that_is_gone_meanwhile_does_nothing_and_says_so() {
    use westerfall_core::value::Input;
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let lanes = ds.views().find(|view| view.name == "From report to repair").expect("a view of the demo").id;
    let status = field(&ds, "Faults.Status");
    let gone = westerfall_core::id::OptionId::new(99_999).unwrap();
    let before = value(&ds, faults, record(4), status);
    let edits = vec![Edit { field: status, input: Input::Value(Value::Choice(gone)), was: Some(before.clone()) }];
    let nadia = asker(&ds, "Nadia");
    let seq = ds.seq;
    let step = OrderStep::Place { records: vec![record(4), record(5)], spot: Spot::Last, edits: edits.clone() };
    for intent in [Intent::Order { view: lanes, step }, Intent::EditSeveral { table: faults, records: vec![record(4), record(5)], edits }] {
        let refused = act(&mut ds, nadia, &intent).expect_err("there is no such lane");
        assert_eq!(refused.0[0].kind, FaultKind::UnknownOption, "{refused:?}");
        assert!(refused.0[0].message.ends_with('.'), "{refused:?}");
    }
    assert_eq!((value(&ds, faults, record(4), status), ds.seq), (before, seq));
}

/// The order with the most lines, and these as they stand under it for somebody.
fn fullest(ds: &Dataset) -> RecordId {
    let (orders, link) = (table(ds, "Work orders"), field(ds, "Work orders.Material lines"));
    records(ds, orders).into_iter().max_by_key(|order| linked(ds, orders, *order, link).len()).expect("an order")
}

fn lines_of(ds: &Dataset, who: Asker, order: RecordId) -> Vec<RecordId> {
    let clock = clock();
    let lens = Lens::new(ds, who, &clock);
    let condition = Condition::linked_to(field(ds, "Material lines.Work order"), order);
    let own = lens.line_order(field(ds, "Work orders.Material lines"));
    let query = Query { condition, ..Query::default() };
    query.run(&lens, table(ds, "Material lines"), &Window { rows: 0..usize::MAX, keep: &[], own }).window
}

fn put_lines(ds: &Dataset, lines: &[RecordId], spot: Spot) -> Intent {
    Intent::PlaceLines { field: field(ds, "Work orders.Material lines"), lines: lines.to_vec(), spot }
}

#[test]
fn lines_stand_where_they_were_put_under_their_record_on_paper_when_made_again_and_in_a_copy() {
    let mut ds = demo();
    let (nadia, order) = (asker(&ds, "Nadia"), fullest(&ds));
    let before = lines_of(&ds, asker(&ds, "Nadia"), order);
    let last = *before.last().unwrap();
    assert!(before.len() > 2);
    let put = put_lines(&ds, &[last], Spot::Before(before[1]));
    let done = act(&mut ds, nadia, &put).unwrap();
    assert_eq!(done.change.ops.len(), 1, "one rank is written, and no record is changed");
    let told = done.change.in_words(&Lens::new(&ds, nadia, &clock()));
    assert!(told.starts_with("moved the material line “") && told.ends_with(" within “Material lines”"), "{told}");
    let wanted: Vec<RecordId> = [&before[..1], &[last], &before[1..before.len() - 1]].concat();
    assert_eq!(lines_of(&ds, asker(&ds, "Nadia"), order), wanted);
    // On paper, where nothing else puts them in order.
    let mut sheet = ds.documents().find(|document| document.title == "Work order").unwrap().clone();
    let mut shows = sheet.blocks.iter_mut().filter_map(|block| match &mut block.shows {
        westerfall_core::document::BlockShows::Lines(lines) => Some(lines),
        _ => None,
    });
    let shown = shows.next().map(|lines| (lines.by, lines.by = None).0);
    assert!(shown.is_some(), "the demo’s sheet lists lines");
    let head = westerfall_core::document::Letterhead::from(westerfall_core::face::Face::named("Orrindale Paths Trust"));
    let printed = sheet.paper(&ds, nadia, &clock(), &[order], &head).unwrap();
    let blocks = printed.sheets[0].rows.iter().flatten();
    let rows = blocks.filter_map(|block| if let PaperShows::Lines { rows, .. } = &block.shows { Some(rows) } else { None }).next().unwrap();
    let said = |row: &westerfall_core::document::PaperRow| row.cells.iter().map(|cell| cell.text.clone()).collect::<Vec<_>>();
    let name = |line: &RecordId| {
        let clock = clock();
        Lens::new(&ds, nadia, &clock).text_at(table(&ds, "Material lines"), *line, field(&ds, "Material lines.Material"))
    };
    assert!(rows.iter().zip(&wanted).all(|(row, line)| said(row).contains(&name(line))), "{:?}", rows.iter().map(said).collect::<Vec<_>>());
    // One like it has the same lines in the same order, now by their numbers.
    let by = Recipe { lines: true, links: true, ..Recipe::default() };
    let duplicate = Duplicate { table: table(&ds, "Work orders"), records: vec![order], by };
    let again = act(&mut ds, nadia, &Intent::Duplicate(Box::new(duplicate))).unwrap().added[0];
    let material = |line: &RecordId| value(&ds, table(&ds, "Material lines"), *line, field(&ds, "Material lines.Material"));
    let of = |lines: &[RecordId]| lines.iter().map(material).collect::<Vec<_>>();
    assert_eq!(of(&lines_of(&ds, asker(&ds, "Nadia"), again)), of(&wanted));
    // A copy of the tracker keeps it.
    let pack = Lens::new(&ds, nadia, &clock()).pack(Packing::Records).unwrap();
    let written = serde_json::to_string(&pack).unwrap();
    let pack: westerfall_core::pack::Pack = serde_json::from_str(&written).unwrap();
    let mut copy = Dataset::empty((*ds.tracker).clone(), ds.people.clone());
    act(&mut copy, Asker::Westerfall, &Intent::Unpack { pack: Box::new(pack), by: None }).unwrap();
    assert_eq!(lines_of(&copy, Asker::Westerfall, order), wanted);
    // And it is taken back as it was done.
    act(&mut ds, nadia, &undo(done.change)).unwrap();
    assert_eq!(lines_of(&ds, asker(&ds, "Nadia"), order), before);
}

#[test]
fn only_whoever_may_change_lines_puts_them_elsewhere_and_only_where_they_stand_as_lines() {
    let ds = demo();
    let order = fullest(&ds);
    let lines = lines_of(&ds, asker(&ds, "Nadia"), order);
    let refused = |who: &str, intent: &Intent| refused(&ds, who, intent);
    for who in ["Pavel", "Wren"] {
        let (kind, _, message) = refused(who, &put_lines(&ds, &lines[..1], Spot::Last));
        assert!(matches!(kind, FaultKind::NotAllowed | FaultKind::NotFound), "{who}: {message}");
    }
    let no_lines = Intent::PlaceLines { field: field(&ds, "Districts.Work orders"), lines: vec![order], spot: Spot::First };
    assert_eq!(refused("Nadia", &no_lines).0, FaultKind::NotFound);
    assert_eq!(refused("Nadia", &put_lines(&ds, &[record(90_000)], Spot::First)).0, FaultKind::NotFound);
    assert_eq!(refused("Nadia", &put_lines(&ds, &lines[..1], Spot::After(record(90_000)))).1, "/spot");
    let many: Vec<RecordId> = (1..=10_001).map(record).collect();
    assert_eq!(refused("Nadia", &put_lines(&ds, &many, Spot::First)).0, FaultKind::TooLong);
}

#[test]
fn whoever_sees_lines_hears_that_they_were_moved() {
    let ds = demo();
    let (nadia, order) = (asker(&ds, "Nadia"), fullest(&ds));
    let lines = lines_of(&ds, asker(&ds, "Nadia"), order);
    let mut after = ds.clone();
    let change = act(&mut after, nadia, &put_lines(&ds, &lines[1..2], Spot::First)).unwrap().change;
    let recomputed = ds.clone().apply(&change);
    let clock = clock();
    let heard = |who: &str| {
        let who = asker(&ds, who);
        Heard::of(Some(&change), &recomputed, &Lens::new(&ds, who, &clock), &Lens::new(&after, who, &clock))
    };
    let of = table(&ds, "Material lines");
    assert!(heard("Nadia").is_some_and(|heard| heard.records[&of].contains(&lines[1])));
    let sees = |who: &str| Lens::new(&ds, asker(&ds, who), &clock).sees(of, lines[1]);
    for who in ["Tamsin", "Bex", "Pavel", "Wren"] {
        assert_eq!(heard(who).is_some(), sees(who), "{who}");
    }
}
