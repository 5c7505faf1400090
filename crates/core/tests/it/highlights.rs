//! What records look like: as the highlights say that act on them, each effect by the strongest rule, and nothing by what is hidden.

use crate::fixture::*;
use proptest::prelude::*;
use std::collections::BTreeSet;
use westerfall_core::{
    access::Lens,
    condition::{Check, Condition},
    dataset::Dataset,
    fault::FaultKind,
    highlight::{CopyTo, Highlight, Ink, Look, LookSize, MendStep, Sign, Touch},
    id::{FieldId, HighlightId, RecordId, TableId},
    intent::{FieldChange, Intent},
    part::Part,
    schema::{Hue, Kind},
    sentence::as_text,
    value::Value,
    view::Query,
};

fn is(ds: &Dataset, options: &[&str]) -> Condition {
    let any = options.iter().map(|name| option(ds, &format!("Faults.Status.{name}"))).collect();
    test(&[field(ds, "Faults.Status")], Check::Option { not: false, any })
}

fn faults_of(ds: &Dataset, one: Highlight) -> Vec<(FaultKind, String, String)> {
    let faults = ds.decide(&Intent::Make(one.into()), asker(ds, "Nadia"), &clock()).err().map(|faults| faults.0).unwrap_or_default();
    faults.into_iter().map(|fault| (fault.kind, fault.pointer, fault.message)).collect()
}

fn made(ds: &mut Dataset, condition: Condition, touches: Vec<Touch>) -> HighlightId {
    let at = table(ds, "Faults");
    let one = ds.drafted_highlight(at, None, Highlight::new(HighlightId::FIRST, at, condition, touches));
    let nadia = asker(ds, "Nadia");
    HighlightId::new(act(ds, nadia, &Intent::Make(one.into())).unwrap().made.unwrap()).unwrap()
}

fn bold() -> Look {
    Look { bold: true, ..Look::default() }
}

#[test]
fn they_read_back_and_say_how_many_they_touch() {
    let (ds, clock) = (demo(), clock());
    let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
    let line = |one: &&Highlight| {
        let words = one.in_words(&lens);
        format!("{} ({})", as_text(&words.sentence), words.matching)
    };
    let lines: Vec<String> = ds.highlights_of(table(&ds, "Faults")).iter().map(line).collect();
    insta::assert_snapshot!(lines.join("\n"));
    // Every phrase that edits a look stands at an effect that is there.
    for one in ds.highlights() {
        let json = serde_json::to_value(one).unwrap();
        for phrase in one.in_words(&lens).sentence {
            if let Some(at) = phrase.at.filter(|at| at.contains("/look/")) {
                assert!(json.pointer(&at).is_some(), "{at} is not in {json}");
            }
        }
    }
}

#[test]
fn what_nobody_could_see_or_read_is_refused_with_its_place() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let due = field(&ds, "Faults.Due");
    let with = |touch: Touch| Highlight::new(HighlightId::FIRST, at, Condition::default(), vec![touch]);
    let refused = |touch: Touch| {
        let mut faults = faults_of(&ds, with(touch));
        assert_eq!(faults.len(), 1, "{faults:?}");
        let (kind, place, message) = faults.remove(0);
        assert_eq!(kind, FaultKind::BadRule, "{message}");
        (place, message)
    };
    let (place, message) = refused(Touch::of(due, Look { ink: Some(Ink::Of(Hue::Rowan)), fill: Some(Hue::Gorse), ..Look::default() }));
    assert_eq!(place, "/touches/0/look");
    assert!(message.starts_with("Colour alone is not seen by everybody."), "{message}");
    assert_eq!(refused(Touch::of(due, Look::default())).0, "/touches/0/look");
    assert_eq!(refused(Touch::of(due, Look { word: "x".repeat(41), ..Look::default() })).0, "/touches/0/look/word");
    let sign = |name: &str| Look { sign: Some(Sign { name: name.into(), hue: None }), ..Look::default() };
    assert_eq!(refused(Touch::of(due, sign("<svg>"))).0, "/touches/0/look/sign");
    assert_eq!(refused(Touch::of(field(&ds, "Sections.Name"), bold())).0, "/touches/0/fields");
    assert_eq!(faults_of(&ds, with(Touch::of(due, sign("peak")))), []);
    // Eight things, and a hundred highlights.
    let many = Highlight::new(HighlightId::FIRST, at, Condition::default(), vec![Touch::whole(bold()); 9]);
    assert_eq!(faults_of(&ds, many)[0].0, FaultKind::TooLong);
}

#[test]
fn only_builders_change_them_and_others_are_told_nothing_of_what_is_hidden() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let mail = field(&ds, "Faults.Reporter’s mail");
    let title = field(&ds, "Faults.What is wrong");
    let secret = made(&mut ds, test(&[mail], Check::Filled), vec![Touch::of(title, bold())]);
    let looks = |who: &str| {
        let clock = clock();
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let looks = lens.looks(at, &BTreeSet::new());
        let number = ds.highlights_of(at).len() as u32;
        let touched = lens.records(at).filter(|record| looks.of(*record, &[title]).is_some_and(|looks| looks.by.contains(&number))).count();
        (touched, lens.highlights(at, &BTreeSet::new()).iter().any(|(_, one)| one.id == secret))
    };
    assert!(looks("Nadia").0 > 0);
    // Trustees read no addresses: neither the rule nor what it marks is there for them.
    assert_eq!(looks("Pavel"), (0, false));
    let one = ds.highlight(secret).unwrap().clone();
    for who in ["Pavel", "Bex", "Tamsin"] {
        for intent in
            [Intent::Save(one.clone().into()), Intent::Drop(one.clone().into()), Intent::MoveHighlight { highlight: secret, to: 0 }]
        {
            let refused = ds.decide(&intent, asker(&ds, who), &clock()).unwrap_err().0.remove(0);
            assert!(matches!(refused.kind, FaultKind::NotAllowed | FaultKind::NotFound), "{who}: {}", refused.message);
        }
    }
}

#[test]
fn taking_away_what_one_asks_for_never_makes_it_touch_more() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let before = |ds: &Dataset, id: HighlightId| ds.highlight(id).unwrap().condition.clone();
    let kind = field(&ds, "Faults.Parish can help");
    let mut then = ds.clone();
    let id = made(&mut then, test(&[kind], Check::Filled), vec![Touch::whole(bold())]);
    let nadia = asker(&then, "Nadia");
    let gone = Intent::Fields { table: at, change: FieldChange::Remove(kind) };
    // The page for the parish needs it; without the page it goes.
    let page = then.pages().next().unwrap().clone();
    act(&mut then, nadia, &Intent::Drop(page.into())).unwrap();
    let removed = act(&mut then, nadia, &gone).unwrap();
    assert_eq!(before(&then, id), Condition::never());
    let clock = clock();
    let lens = Lens::new(&then, nadia, &clock);
    let words = then.highlight(id).unwrap().in_words(&lens);
    assert_eq!(words.matching, 0);
    assert!(as_text(&words.sentence).starts_with("Never (what it asked for is gone), the whole fault is bold"));
    act(&mut then, nadia, &undo(removed.change)).unwrap();
    assert_eq!(before(&then, id), test(&[kind], Check::Filled));
    // What touches a field alone goes with it, and does not become a rule for the whole record.
    let hours = field(&then, "Faults.Parish note".replace("Parish note", "Note from the parish").as_str());
    let other = made(&mut then, Condition::default(), vec![Touch::of(hours, bold())]);
    act(&mut then, nadia, &Intent::Fields { table: at, change: FieldChange::Remove(hours) }).unwrap();
    assert_eq!(then.highlight(other).unwrap().touches, []);
}

#[test]
fn one_goes_to_another_place_and_back() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let order = |ds: &Dataset| ds.highlights_of(at).iter().map(|one| one.id).collect::<Vec<_>>();
    let before = order(&ds);
    let nadia = asker(&ds, "Nadia");
    let moved = act(&mut ds, nadia, &Intent::MoveHighlight { highlight: before[4], to: 1 }).unwrap();
    assert_eq!(order(&ds), [before[0], before[4], before[1], before[2], before[3]]);
    act(&mut ds, nadia, &Intent::MoveHighlight { highlight: before[0], to: 99 }).unwrap();
    assert_eq!(order(&ds).last(), Some(&before[0]));
    let mut ds = demo();
    let moved_again = act(&mut ds, nadia, &Intent::MoveHighlight { highlight: before[4], to: 1 }).unwrap();
    assert_eq!(moved.change.ops, moved_again.change.ops);
    act(&mut ds, nadia, &undo(moved_again.change)).unwrap();
    assert_eq!(order(&ds), before);
}

#[test]
fn a_views_own_list_says_which_are_off_and_its_sentence_counts_the_rest() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let view = ds.views().find(|view| view.name == "To be put right").unwrap().clone();
    let first = ds.highlights_of(at)[0].id;
    let query = Query { without: BTreeSet::from([first]), ..view.query.clone() };
    let nadia = asker(&ds, "Nadia");
    let told = |ds: &Dataset, query: &Query| {
        let clock = clock();
        let lens = Lens::new(ds, nadia, &clock);
        let outcome = query.run(&lens, at, &westerfall_core::view::Window::default());
        as_text(&query.to_sentence(&lens, at, outcome.total, outcome.matching, None))
    };
    assert!(told(&ds, &view.query).contains(", 5 highlights, as rows"));
    assert!(told(&ds, &query).contains(", 4 of 5 highlights, as rows"));
    act(&mut ds, nadia, &Intent::Save(westerfall_core::view::View { query, ..view.clone() }.into())).unwrap();
    // Taken away, it is off nowhere any more.
    let first = ds.highlight(first).unwrap().clone();
    act(&mut ds, nadia, &Intent::Drop(first.into())).unwrap();
    assert!(ds.view(view.id).unwrap().query.without.is_empty());
}

#[test]
fn one_that_is_being_written_acts_on_what_is_in_sight_and_shows_itself_where_nothing_matches() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let view = ds.views().find(|view| view.name == "To be put right").unwrap();
    let (nadia, clock) = (asker(&ds, "Nadia"), clock());
    let title = field(&ds, "Faults.What is wrong");
    let drafted =
        |condition| ds.drafted_highlight(at, None, Highlight::new(HighlightId::FIRST, at, condition, vec![Touch::of(title, bold())]));
    let rehearse = |draft| view.query.rehearse_highlights(&ds, nadia, &clock, at, Some(draft), 30);
    let told = rehearse(drafted(is(&ds, &["in hand"]))).unwrap();
    let draft = told.draft.unwrap();
    let new = ds.highlights_of(at).len() as u32 + 1;
    let touched = told.rows.iter().filter(|row| row.looks.as_ref().is_some_and(|looks| looks.by.contains(&new))).count();
    assert!(draft.in_sight > 0 && draft.in_sight == touched, "{} {touched}", draft.in_sight);
    assert!(draft.matches && draft.faults.is_empty());
    let sample = draft.sample.unwrap();
    assert!(sample.then.looks.unwrap().by.contains(&new));
    // Nothing is of the year 1: it is shown on a record as it would look.
    let never = test(
        &[field(&ds, "Faults.Reported on")],
        Check::Day {
            how: westerfall_core::condition::Comparison::Under,
            than: westerfall_core::condition::When::Date(jiff::civil::date(1, 1, 2)),
        },
    );
    let draft = rehearse(drafted(never)).unwrap().draft.unwrap();
    assert_eq!((draft.words.matching, draft.in_sight, draft.matches), (0, 0, false));
    let look = draft.sample.unwrap().then.looks.unwrap();
    assert!(look.cells.iter().any(|cell| cell.field == title && cell.look.bold));
    // Whoever may not change it learns nothing by rehearsing one.
    let bex = asker(&ds, "Bex");
    assert!(view.query.rehearse_highlights(&ds, bex, &clock, at, Some(drafted(is(&ds, &["in hand"]))), 30).is_err());
    assert!(ds.highlights().count() == 5);
}

#[test]
fn why_it_looks_so_is_told_effect_by_effect() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let (due, title) = (field(&ds, "Faults.Due"), field(&ds, "Faults.What is wrong"));
    let condition = is(&ds, &["in hand", "scheduled"]);
    made(&mut ds, condition, vec![Touch::whole(Look { ink: Some(Ink::Of(Hue::Sky)), struck: true, ..Look::default() })]);
    let nadia = asker(&ds, "Nadia");
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    let looks = lens.looks(at, &BTreeSet::new());
    let both = lens.records(at).find(|record| looks.of(*record, &[due]).is_some_and(|looks| looks.by == [1, 6])).unwrap();
    let why = lens.why_look(at, both, due, &BTreeSet::new()).unwrap();
    let lines: Vec<String> =
        why.lines.iter().map(|line| format!("{}: by {}, {} {}", line.looks, line.by, line.when, line.others.join(" "))).collect();
    insta::assert_snapshot!(lines.join("\n"));
    assert_eq!(
        lens.why_look(at, both, title, &BTreeSet::from([ds.highlights_of(at)[5].id])).unwrap().says,
        "No highlight touches it: it looks as everything does."
    );
    let pavel = Lens::new(&ds, asker(&ds, "Pavel"), &clock);
    assert_eq!(pavel.why_look(at, both, field(&ds, "Faults.Reporter"), &BTreeSet::new()), None);
}

/// What a cell looks like, worked out by asking for each effect which rule comes first.
fn by_hand(ds: &Dataset, record: RecordId, field: FieldId, shown: &[FieldId]) -> Look {
    let at = table(ds, "Faults");
    let clock = clock();
    let lens = Lens::new(ds, asker(ds, "Nadia"), &clock);
    let def = &ds.table(at).unwrap().def;
    let named = if shown.contains(&def.standing) { def.standing } else { shown[0] };
    let option = matches!(def.field(field).unwrap().kind, Kind::Choice { .. }) && value(ds, at, record, field) != Value::Empty;
    let mut order: Vec<(u8, &Touch)> = Vec::new();
    for one in ds.highlights_of(at) {
        if !one.condition.holds(&lens, at, record) {
            continue;
        }
        for touch in &one.touches {
            if touch.fields.is_empty() || touch.fields.contains(&field) {
                let standing = one.condition.is_nothing();
                order.push((u8::from(standing) * 2 + u8::from(touch.fields.is_empty()), touch));
            }
        }
    }
    order.sort_by_key(|(rank, _)| *rank);
    let own = |touch: &Touch| !touch.fields.is_empty();
    let first = |has: &dyn Fn(u8, &Touch) -> bool| order.iter().find(|(rank, touch)| has(*rank, touch)).map(|(_, touch)| *touch);
    Look {
        fill: first(&|_, touch| touch.look.fill.is_some()).filter(|touch| own(touch)).and_then(|touch| touch.look.fill),
        ink: first(&|_, touch| touch.look.ink.is_some()).and_then(|touch| touch.look.ink),
        edge: first(&|rank, touch| own(touch) && touch.look.edge.is_some() && (rank == 0 || !option)).and_then(|touch| touch.look.edge),
        bold: first(&|_, touch| touch.look.bold).is_some(),
        italic: first(&|_, touch| touch.look.italic).is_some(),
        struck: first(&|_, touch| touch.look.struck).is_some(),
        size: first(&|_, touch| touch.look.size.is_some()).and_then(|touch| touch.look.size),
        sign: first(&|_, touch| touch.look.sign.is_some() && (own(touch) || named == field)).and_then(|touch| touch.look.sign.clone()),
        word: first(&|_, touch| !touch.look.word.is_empty() && (own(touch) || named == field))
            .map(|touch| touch.look.word.clone())
            .unwrap_or_default(),
    }
}

fn any_look() -> impl Strategy<Value = Look> {
    let hue = || prop::option::of(prop::sample::select(Hue::ALL.to_vec()));
    let ink = prop::option::of(prop_oneof![Just(Ink::Quiet), prop::sample::select(Hue::ALL.to_vec()).prop_map(Ink::Of)]);
    let size = prop::option::of(prop_oneof![Just(LookSize::Larger), Just(LookSize::Smaller)]);
    let sign = prop::option::of(hue().prop_map(|hue| Sign { name: "peak".into(), hue }));
    (hue(), ink, hue(), any::<(bool, bool)>(), size, sign, prop::option::of("[a-z]{1,5}")).prop_map(
        |(fill, ink, edge, (bold, italic), size, sign, word)| Look {
            fill,
            ink,
            edge,
            bold,
            italic,
            struck: false,
            size,
            sign,
            word: word.unwrap_or_default(),
        },
    )
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    /// Whatever the highlights, each effect is that of the strongest rule; and the whole record has its ground and edge alone.
    #[test]
    fn each_effect_is_that_of_the_strongest_rule(
        rules in prop::collection::vec((0_usize..3, prop::collection::vec((prop::collection::vec(0_usize..4, 0..3), any_look()), 1..3)), 1..6),
        records in prop::collection::vec(0_usize..120, 6),
    ) {
        let mut ds = demo();
        let at: TableId = table(&ds, "Faults");
        let shown: Vec<FieldId> = ["Number", "What is wrong", "Status", "Due"].iter().map(|name| field(&ds, &format!("Faults.{name}"))).collect();
        for (place, (when, touches)) in (0_u32..).zip(rules) {
            let condition = match when {
                0 => Condition::default(),
                1 => is(&ds, &["made good"]),
                _ => is(&ds, &["reported", "made good", "scheduled"]),
            };
            let touches = touches.into_iter().map(|(fields, look)| Touch { fields: fields.into_iter().map(|n| shown[n]).collect(), look });
            let one = Highlight { place, ..Highlight::new(HighlightId::new(900 + place).unwrap(), at, condition, touches.collect()) };
            ds.load_part(&Part::Highlight(one));
        }
        let clock = clock();
        let lens = Lens::new(&ds, asker(&ds, "Nadia"), &clock);
        let looks = lens.looks(at, &BTreeSet::new());
        let all: Vec<RecordId> = lens.records(at).collect();
        for n in records {
            let record = all[n % all.len()];
            let told = looks.of(record, &shown).unwrap_or_default();
            for field in &shown {
                let look = told.cells.iter().find(|cell| cell.field == *field).map(|cell| cell.look.clone()).unwrap_or_default();
                prop_assert_eq!(&look, &by_hand(&ds, record, *field, &shown), "{:?} of {:?}", field, record);
            }
            let rest = Look { fill: None, edge: None, ..told.whole.clone() };
            prop_assert!(rest.is_plain());
        }
    }
}

fn copied(ds: &Dataset, one: &Highlight, to: TableId, chosen: &[(FieldId, FieldId)]) -> westerfall_core::highlight::HighlightCopy {
    let clock = clock();
    let lens = Lens::new(ds, asker(ds, "Nadia"), &clock);
    let chosen = chosen.iter().copied().collect();
    one.copied(&lens, &CopyTo { lens: &lens, table: to, same: true, chosen: &chosen })
}

#[test]
fn one_taken_to_its_own_table_is_the_same() {
    let ds = demo();
    for one in ds.highlights() {
        let copy = copied(&ds, one, one.table, &[]);
        assert_eq!((&copy.condition, &copy.touches, copy.left.len()), (&one.condition, &one.touches, 0));
        assert!(copy.asks.iter().all(|ask| ask.becomes == Some(ask.field)));
    }
}

#[test]
fn one_taken_elsewhere_asks_for_what_is_missing_and_never_touches_more() {
    let mut ds = demo();
    let at = table(&ds, "Faults");
    let (status, due) = (field(&ds, "Faults.Status"), field(&ds, "Faults.Due"));
    let good = is(&ds, &["made good"]);
    let id = made(&mut ds, good, vec![Touch { fields: vec![due, status], look: bold() }]);
    let one = ds.highlights_of(at).into_iter().find(|one| one.id == id).unwrap().clone();
    let parties = table(&ds, "Work parties");
    let there = field(&ds, "Work parties.Status");
    // Both tables have a status, of other options; neither a day that it is due.
    let copy = copied(&ds, &one, parties, &[]);
    let asked: Vec<(FieldId, Option<FieldId>)> = copy.asks.iter().map(|ask| (ask.field, ask.becomes)).collect();
    assert_eq!(asked, [(status, Some(there)), (due, None)]);
    assert_eq!(copy.left, ["“status is made good” is left out: the options there are planned, held and called off."]);
    assert_eq!((copy.condition.clone(), copy.words.matching), (Condition::never(), 0));
    assert_eq!(copy.touches, vec![Touch { fields: vec![there], look: bold() }]);
    // Said which stands for it, it touches that; a field that does not fit stands for nothing.
    let what = field(&ds, "Work parties.What");
    let copy = copied(&ds, &one, parties, &[(due, what), (status, what)]);
    assert_eq!(copy.asks.iter().map(|ask| ask.becomes).collect::<Vec<_>>(), [None, Some(what)]);
    // In no table does it come to touch whole records.
    for home in ds.tables() {
        assert!(copied(&ds, &one, home.def.id, &[]).touches.iter().all(|touch| !touch.fields.is_empty()));
    }
}

#[test]
fn a_way_along_links_is_the_same_where_it_leads_to_the_same() {
    let mut ds = demo();
    let (section, district, warden) = (field(&ds, "Faults.Section"), field(&ds, "Sections.District"), field(&ds, "Districts.Warden"));
    let me = Check::Person { not: false, any: vec![westerfall_core::condition::Who::Me] };
    let id = made(&mut ds, test(&[section, district, warden], me.clone()), vec![Touch::whole(bold())]);
    let one = ds.highlights().find(|one| one.id == id).unwrap().clone();
    let orders = table(&ds, "Work orders");
    let own = field(&ds, "Work orders.District");
    assert!(copied(&ds, &one, orders, &[]).condition == Condition::never(), "no section there");
    // A table with a district of its own.
    let of_sections = made_in(&mut ds, "Sections", test(&[district, warden], me.clone()));
    let copy = copied(&ds, &of_sections, orders, &[]);
    assert_eq!((copy.condition, copy.left.len()), (test(&[own, warden], me), 0));
}

fn made_in(ds: &mut Dataset, home: &str, condition: Condition) -> Highlight {
    let at = table(ds, home);
    let one = ds.drafted_highlight(at, None, Highlight::new(HighlightId::FIRST, at, condition, vec![Touch::whole(bold())]));
    let nadia = asker(ds, "Nadia");
    let id = HighlightId::new(act(ds, nadia, &Intent::Make(one.into())).unwrap().made.unwrap()).unwrap();
    ds.highlights().find(|one| one.id == id).unwrap().clone()
}

#[test]
fn each_mend_that_is_offered_lets_the_other_have_its_way() {
    let mut ds = demo();
    let (at, title, status) = (table(&ds, "Faults"), field(&ds, "Faults.What is wrong"), field(&ds, "Faults.Status"));
    let mut struck = bold();
    (struck.bold, struck.ink) = (false, Some(Ink::Quiet));
    let (good, both) = (is(&ds, &["made good"]), Condition::All(vec![is(&ds, &["made good", "no action"])]));
    let first = made(&mut ds, good, vec![Touch::of(title, struck)]);
    let rowan = Look { ink: Some(Ink::Of(Hue::Rowan)), bold: true, ..Look::default() };
    made(&mut ds, both, vec![Touch::of(title, rowan.clone())]);
    let good = option(&ds, "Faults.Status.made good");
    let one = records(&ds, at).into_iter().find(|r| value(&ds, at, *r, status) == Value::Choice(good)).unwrap();
    let without = |ds: &Dataset| ds.highlights_of(at).iter().take(5).map(|one| one.id).collect::<BTreeSet<_>>();
    let ink = |ds: &Dataset| {
        let clock = clock();
        let lens = Lens::new(ds, asker(ds, "Nadia"), &clock);
        let looks = lens.looks(at, &without(ds)).of(one, &[title]).unwrap();
        looks.cells.iter().find(|cell| cell.field == title).and_then(|cell| cell.look.ink)
    };
    assert_eq!(ink(&ds), Some(Ink::Quiet));
    let mends = |ds: &Dataset, who: &str| {
        let clock = clock();
        let why = Lens::new(ds, asker(ds, who), &clock).why_look(at, one, title, &without(ds)).unwrap();
        why.lines.into_iter().flat_map(|line| line.mends).collect::<Vec<_>>()
    };
    let offered = mends(&ds, "Nadia");
    assert_eq!(offered[0].says, "put 7 above 6");
    assert!(offered[1].says.starts_with("leave out of 6 where what is wrong is "), "{}", offered[1].says);
    assert!(mends(&ds, "Bex").is_empty(), "who does not build is offered none");
    let nadia = asker(&ds, "Nadia");
    for mend in offered {
        let mut then = ds.clone();
        let intent = match mend.step {
            MendStep::Move(to) => Intent::MoveHighlight { highlight: mend.highlight, to },
            MendStep::Narrow(condition) => {
                let before = ds.highlights().find(|one| one.id == mend.highlight).unwrap().clone();
                assert_eq!(before.id, first);
                Intent::Save(Highlight { condition, ..before }.into())
            }
        };
        act(&mut then, nadia, &intent).unwrap();
        assert_eq!(ink(&then), rowan.ink, "{}", mend.says);
    }
}
