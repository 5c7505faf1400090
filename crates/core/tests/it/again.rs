//! Records made again, made one, and brought back: each rehearsed as it comes, one step, and taken back whole.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    bin::rehearse_bin,
    bulk::{BulkRehearsal, Duplicate},
    dataset::Dataset,
    fault::Faults,
    history::Change,
    id::{FieldId, RecordId, TableId},
    intent::{Intent, TableChange},
    merge::{Merge, MergeRehearsal},
    part::Part,
    schema::{MovesOn, Recipe, Step},
    talk::{TalkPart, TalkStep},
    value::Value,
};

fn again(ds: &Dataset, at: &str, records: &[u32], by: Recipe) -> Duplicate {
    Duplicate { table: table(ds, at), records: records.iter().map(|n| record(*n)).collect(), by }
}

fn do_it(ds: &mut Dataset, who: &str, intent: &Intent) -> Result<(Change, Vec<RecordId>), Faults> {
    let who = asker(ds, who);
    act(ds, who, intent).map(|decision| (decision.change, decision.added))
}

fn rehearsed(ds: &Dataset, who: &str, duplicate: &Duplicate) -> BulkRehearsal {
    duplicate.rehearse(ds, asker(ds, who), &clock())
}

fn whole() -> Recipe {
    Recipe { lines: true, links: true, ..Recipe::default() }
}

fn text(ds: &Dataset, at: &str, record: RecordId, name: &str) -> String {
    let clock = clock();
    Lens::new(ds, asker(ds, "Nadia"), &clock).text_at(table(ds, at), record, field(ds, &format!("{at}.{name}")))
}

#[test]
fn an_order_is_made_again_with_its_lines_a_number_of_its_own_and_its_days_moved_on() {
    let mut ds = demo();
    let (orders, lines) = (table(&ds, "Work orders"), field(&ds, "Work orders.Material lines"));
    let from = records(&ds, orders).into_iter().find(|r| linked(&ds, orders, *r, lines).len() > 1).unwrap();
    let planned = field(&ds, "Work orders.Planned day");
    let by = Recipe {
        moves: vec![MovesOn { field: planned, by: Step::Months(1) }],
        empties: vec![field(&ds, "Work orders.Started"), field(&ds, "Work orders.Finished")],
        ..whole()
    };
    let duplicate = again(&ds, "Work orders", &[from.get()], by);
    let told = rehearsed(&ds, "Nadia", &duplicate);
    let count = linked(&ds, orders, from, lines).len();
    assert_eq!(told.says, [format!("A work order is added, with {count} material lines.")]);
    assert!(told.examples.iter().any(|one| one.field == "Planned day" && one.before != one.after));
    let before = ds.clone();
    let (change, added) = do_it(&mut ds, "Nadia", &Intent::Duplicate(Box::new(duplicate))).unwrap();
    let to = added[0];
    let Value::Date(was) = value(&before, orders, from, planned) else { panic!("it is planned") };
    assert_eq!(value(&ds, orders, to, planned), Value::Date(was.checked_add(jiff::Span::new().months(1)).unwrap()));
    assert_ne!(text(&ds, "Work orders", to, "Number"), text(&ds, "Work orders", from, "Number"));
    assert_eq!(text(&ds, "Work orders", to, "Materials cost"), text(&ds, "Work orders", from, "Materials cost"));
    assert_eq!((linked(&ds, orders, to, lines).len(), linked(&ds, orders, from, lines).len()), (count, count));
    assert_eq!(text(&ds, "Work orders", to, "Started"), "");
    do_it(&mut ds, "Nadia", &undo(change)).unwrap();
    assert_eq!(records(&ds, orders), records(&before, orders));
    assert_eq!(records(&ds, table(&ds, "Material lines")), records(&before, table(&ds, "Material lines")));
}

#[test]
fn a_day_at_the_end_of_a_month_moves_to_the_end_of_a_shorter_one_and_never_beyond_the_years() {
    let mut ds = demo();
    let (faults, reported) = (table(&ds, "Faults"), field(&ds, "Faults.Reported on"));
    do_it(
        &mut ds,
        "Nadia",
        &Intent::Edit {
            table: faults,
            record: record(3),
            edits: vec![westerfall_core::intent::Edit { field: reported, input: typed("31 Jan 2026"), was: None }],
        },
    )
    .unwrap();
    let moved = |by| Recipe { moves: vec![MovesOn { field: reported, by }], ..whole() };
    let duplicate = again(&ds, "Faults", &[3], moved(Step::Months(1)));
    let (_, added) = do_it(&mut ds, "Nadia", &Intent::Duplicate(Box::new(duplicate))).unwrap();
    assert_eq!(text(&ds, "Faults", added[0], "Reported on"), "28 Feb 2026");
    for by in [Step::Months(i32::MAX), Step::Days(i32::MIN), Step::Months(99_999)] {
        let told = rehearsed(&ds, "Nadia", &again(&ds, "Faults", &[3], moved(by)));
        assert_eq!((told.refusals, told.changed), (1, 0), "{by:?}");
    }
}

#[test]
fn who_may_not_add_makes_nothing_again_and_who_sees_little_is_told_of_no_more() {
    let mut ds = demo();
    for who in ["Pavel", "Wren"] {
        let duplicate = again(&ds, "Work orders", &[1], whole());
        assert!(do_it(&mut ds, who, &Intent::Duplicate(Box::new(duplicate))).is_err());
    }
    let clock = clock();
    let own: Vec<RecordId> = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(table(&ds, "Faults")).collect();
    let other = records(&ds, table(&ds, "Faults")).into_iter().find(|r| !own.contains(r)).unwrap();
    let told = rehearsed(&ds, "Tamsin", &again(&ds, "Faults", &[other.get()], whole()));
    assert_eq!((told.changed, told.refusals), (0, 1));
    assert_eq!(told.refused[0].name, "", "what she does not see has no name for her");
    let told = rehearsed(&ds, "Tamsin", &again(&ds, "Faults", &[own[0].get()], whole()));
    assert_eq!(told.changed, 1);
}

#[test]
fn a_recipe_is_kept_with_its_table_and_leaves_what_is_gone() {
    let mut ds = demo();
    let home = table(&ds, "Work orders");
    let planned = field(&ds, "Work orders.Planned day");
    let recipe = Recipe { name: "Next month".into(), moves: vec![MovesOn { field: planned, by: Step::Months(1) }], ..whole() };
    let keep = |recipes: Vec<Recipe>| Intent::Table(TableChange::Recipes { table: home, recipes });
    do_it(&mut ds, "Nadia", &keep(vec![recipe.clone()])).unwrap();
    assert!(do_it(&mut ds, "Nadia", &keep(vec![recipe.clone(), Recipe { name: "next MONTH".into(), ..recipe.clone() }])).is_err());
    let no_day =
        Recipe { name: "b".into(), moves: vec![MovesOn { field: field(&ds, "Work orders.Crew leader"), by: Step::Days(1) }], ..whole() };
    assert!(do_it(&mut ds, "Nadia", &keep(vec![no_day])).is_err());
    assert!(do_it(&mut ds, "Bex", &keep(vec![])).is_err());
    assert!(do_it(&mut ds, "Nadia", &keep(vec![Recipe::default()])).is_err(), "a recipe has a name");
}

fn merge(ds: &Dataset, keep: u32, other: u32, take: &[&str]) -> Merge {
    let take = take.iter().map(|name| field(ds, &format!("Faults.{name}"))).collect();
    Merge { table: table(ds, "Faults"), keep: record(keep), other: record(other), take }
}

fn merge_told(ds: &Dataset, who: &str, merge: &Merge) -> Result<MergeRehearsal, westerfall_core::fault::Fault> {
    merge.rehearse(ds, asker(ds, who), &clock())
}

#[test]
fn two_are_made_one_with_what_links_to_either_and_what_was_said_of_both() {
    let mut ds = demo();
    let (faults, orders) = (table(&ds, "Faults"), field(&ds, "Faults.Work orders"));
    let linked_ones: Vec<RecordId> =
        records(&ds, faults).into_iter().filter(|r| !linked(&ds, faults, *r, orders).is_empty()).take(2).collect();
    let (keep, other) = (linked_ones[0].get(), linked_ones[1].get());
    let say = |who: &str, record: RecordId, said: &str, ds: &mut Dataset| {
        let step = TalkStep::Say { said: vec![TalkPart::Text(said.into())], files: Vec::new(), answers: None };
        do_it(ds, who, &Intent::Talk { table: faults, record, step }).unwrap();
    };
    say("Bex", linked_ones[0], "said of the first", &mut ds);
    say("Bex", linked_ones[1], "said of the second", &mut ds);
    let before = ds.clone();
    let merge = merge(&ds, keep, other, &["What is wrong"]);
    let told = merge_told(&ds, "Nadia", &merge).unwrap();
    let title = told.lines.iter().find(|line| line.name == "What is wrong").unwrap();
    assert_eq!((title.choose, &title.then), (title.keep != title.other, &title.other));
    assert!(told.wrong.is_none() && told.says.iter().any(|says| says.contains("work order")), "{:?}", told.says);
    let (change, _) = do_it(&mut ds, "Nadia", &Intent::Merge(Box::new(merge))).unwrap();
    let mut wanted = linked(&before, faults, record(keep), orders);
    wanted.extend(linked(&before, faults, record(other), orders));
    let mut now = linked(&ds, faults, record(keep), orders);
    wanted.sort_unstable();
    now.sort_unstable();
    wanted.dedup();
    assert_eq!(now, wanted, "what linked to either links to the one that stays");
    assert!(!records(&ds, faults).contains(&record(other)));
    let clock = clock();
    let said: Vec<String> =
        Lens::new(&ds, asker(&ds, "Nadia"), &clock).talk(faults, record(keep)).iter().map(|told| format!("{:?}", told.says)).collect();
    assert!(said.iter().any(|text| text.contains("of the first")) && said.iter().any(|text| text.contains("of the second")), "{said:?}");
    do_it(&mut ds, "Nadia", &undo(change)).unwrap();
    assert_eq!(records(&ds, faults), records(&before, faults));
    assert_eq!(linked(&ds, faults, record(other), orders), linked(&before, faults, record(other), orders));
    assert_eq!(text(&ds, "Faults", record(keep), "What is wrong"), text(&before, "Faults", record(keep), "What is wrong"));
}

/// Whoever made two one takes that back in one step, and does it anew, also where others said something of either.
#[test]
fn whoever_made_two_one_takes_it_back_with_what_others_said() {
    let mut ds = demo();
    let faults = table(&ds, "Faults");
    let clock = clock();
    let own: Vec<RecordId> = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(faults).collect();
    let (keep, other) = (own[0], own[1]);
    let step = TalkStep::Say { said: vec![TalkPart::Text("of the second".into())], files: Vec::new(), answers: None };
    do_it(&mut ds, "Nadia", &Intent::Talk { table: faults, record: other, step }).unwrap();
    let talk = |ds: &Dataset| Lens::new(ds, asker(ds, "Nadia"), &clock).talk(faults, keep).len();
    let before = talk(&ds);
    // A warden removes no faults, but for this.
    let warden = ds.roles().find(|role| role.name == "Warden").unwrap().clone();
    let mut more = warden.clone();
    let rights = more.tables.get_mut(&faults).unwrap();
    rights.remove = rights.change.clone();
    do_it(&mut ds, "Nadia", &Intent::Save(Part::Role(more))).unwrap();
    let merge = Intent::Merge(Box::new(merge(&ds, keep.get(), other.get(), &[])));
    let (made_one, _) = do_it(&mut ds, "Tamsin", &merge).unwrap();
    assert_eq!(talk(&ds), before + 1);
    let (taken_back, _) = do_it(&mut ds, "Tamsin", &undo(made_one)).unwrap();
    assert_eq!(talk(&ds), before);
    assert!(records(&ds, faults).contains(&other));
    do_it(&mut ds, "Tamsin", &undo(taken_back)).unwrap();
    assert_eq!(talk(&ds), before + 1);
    // What somebody said is still theirs to take back otherwise.
    let said = Lens::new(&ds, asker(&ds, "Nadia"), &clock).talk(faults, keep).last().unwrap().id;
    assert!(do_it(&mut ds, "Tamsin", &Intent::Talk { table: faults, record: keep, step: TalkStep::Remove { comment: said } }).is_err());
}

#[test]
fn merging_is_for_those_who_may_change_one_and_remove_the_other_and_tells_nobody_else_of_either() {
    let mut ds = demo();
    let clock = clock();
    let own: Vec<RecordId> = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(table(&ds, "Faults")).collect();
    let other = records(&ds, table(&ds, "Faults")).into_iter().find(|r| !own.contains(r)).unwrap();
    assert!(merge_told(&ds, "Tamsin", &merge(&ds, own[0].get(), other.get(), &[])).is_err());
    let refused = [("Tamsin", own[0].get(), other.get()), ("Nadia", 3, 3), ("Pavel", 3, 4)];
    for (who, keep, other) in refused {
        let merge = merge(&ds, keep, other, &[]);
        assert!(do_it(&mut ds, who, &Intent::Merge(Box::new(merge))).is_err(), "{who}");
    }
    let made_one = Intent::Merge(Box::new(merge(&ds, 3, 4, &[])));
    do_it(&mut ds, "Nadia", &made_one).unwrap();
    assert!(do_it(&mut ds, "Nadia", &made_one).is_err(), "the one that went is not there to be merged again");
}

#[test]
fn doubles_are_found_by_what_they_say_nearly_and_only_among_what_one_sees() {
    let mut ds = demo();
    let (faults, title) = (table(&ds, "Faults"), field(&ds, "Faults.What is wrong"));
    let add = |ds: &mut Dataset, says: &str, section: u32| {
        let cells = vec![(title, typed(says)), (field(ds, "Faults.Section"), links(&[section]))];
        do_it(ds, "Nadia", &Intent::Add { table: faults, records: vec![cells] }).unwrap().1[0]
    };
    let clock = clock();
    let own: Vec<RecordId> = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(table(&ds, "Sections")).collect();
    let other = records(&ds, table(&ds, "Sections")).into_iter().find(|r| !own.contains(r)).unwrap();
    let first = add(&mut ds, "Zymurgy stile has collapsed", own[0].get());
    let second = add(&mut ds, "zymurgy stile, has colapsed", own[0].get());
    let third = add(&mut ds, "Zymurgy stile has collapsed", other.get());
    let found = |who: &str| -> Vec<Vec<RecordId>> {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        let groups = lens.doubles(faults, &[title]).unwrap().into_iter().filter(|group| group.says.contains("ymurgy"));
        groups.map(|group| group.records.iter().map(|one| one.id).collect()).collect()
    };
    assert_eq!(found("Nadia"), [vec![first, second, third]]);
    assert_eq!(found("Tamsin"), [vec![first, second]], "what she does not see is no double");
    let lens = Lens::new(&ds, asker(&ds, "Wren"), &clock);
    assert!(lens.doubles(faults, &[title]).is_err() || found("Wren").is_empty());
    assert!(Lens::new(&ds, asker(&ds, "Nadia"), &clock).doubles(faults, &[]).is_err());
}

fn bin(ds: &Dataset, who: &str) -> Vec<(TableId, RecordId, String)> {
    let clock = clock();
    Lens::new(ds, asker(ds, who), &clock).bin().into_iter().map(|one| (one.table, one.record, one.hangs)).collect()
}

#[test]
fn the_bin_is_told_to_those_who_might_put_it_there_and_brings_back_with_its_links() {
    let mut ds = demo();
    let (faults, orders) = (table(&ds, "Faults"), field(&ds, "Faults.Work orders"));
    let clock = clock();
    let own: Vec<RecordId> = Lens::new(&ds, asker(&ds, "Tamsin"), &clock).records(faults).collect();
    let gone = records(&ds, faults).into_iter().find(|r| !own.contains(r) && !linked(&ds, faults, *r, orders).is_empty()).unwrap();
    let with = linked(&ds, faults, gone, orders);
    do_it(&mut ds, "Nadia", &Intent::Remove { table: faults, records: vec![gone] }).unwrap();
    let told = bin(&ds, "Nadia");
    assert!(told.iter().any(|(t, r, hangs)| (*t, *r) == (faults, gone) && hangs.contains("work order")), "{told:?}");
    for who in ["Tamsin", "Pavel", "Wren"] {
        assert!(!bin(&ds, who).iter().any(|(_, r, _)| *r == gone), "{who}");
        assert!(do_it(&mut ds, who, &Intent::BringBack { table: faults, records: vec![gone] }).is_err(), "{who}");
    }
    do_it(&mut ds, "Nadia", &Intent::BringBack { table: faults, records: vec![gone] }).unwrap();
    assert_eq!(linked(&ds, faults, gone, orders), with);
    assert!(bin(&ds, "Nadia").iter().all(|(_, r, _)| *r != gone));
}

#[test]
fn what_is_emptied_out_of_the_bin_leaves_nothing_and_stays_gone() {
    let mut ds = demo();
    let (faults, orders) = (table(&ds, "Faults"), field(&ds, "Faults.Work orders"));
    let record = records(&ds, faults).into_iter().find(|r| !linked(&ds, faults, *r, orders).is_empty()).unwrap();
    let say = Intent::Talk {
        table: faults,
        record,
        step: TalkStep::Say { said: vec![TalkPart::Text("Remember this".into())], files: Vec::new(), answers: None },
    };
    do_it(&mut ds, "Nadia", &say).unwrap();
    let empty = Intent::EmptyOut { records: vec![(faults, record)] };
    assert!(do_it(&mut ds, "Nadia", &empty).unwrap().0.ops.is_empty(), "what is not in the bin is left");
    let (removed, _) = do_it(&mut ds, "Nadia", &Intent::Remove { table: faults, records: vec![record] }).unwrap();
    for who in ["Tamsin", "Bex", "Pavel", "Wren"] {
        assert!(do_it(&mut ds, who, &empty).is_err(), "{who} is no steward");
    }
    // The clock waits for thirty days; a steward does not.
    let by_clock = ds.decide(&empty, Asker::Westerfall, &clock()).unwrap();
    assert!(by_clock.change.ops.is_empty());
    let clock = clock();
    let says = Lens::new(&ds, asker(&ds, "Nadia"), &clock).emptiable().unwrap().says;
    assert!(says.contains("1 record with") && says.contains("1 comment"), "{says}");
    assert!(Lens::new(&ds, asker(&ds, "Bex"), &clock).emptiable().is_none());
    let (change, _) = do_it(&mut ds, "Nadia", &empty).unwrap();
    assert!(bin(&ds, "Nadia").iter().all(|(_, other, _)| *other != record));
    assert!(change.in_words(&Lens::new(&ds, asker(&ds, "Nadia"), &clock)).contains("emptied a fault out of the bin"));
    let kept = ds.record_to_keep(faults, record).unwrap();
    assert!(kept.meta.gone && kept.cells.is_empty() && ds.table(faults).is_some(), "{:?}", kept.cells);
    // Neither by bringing it back, nor by undoing what emptied it or what put it there.
    let refused = [
        Intent::BringBack { table: faults, records: vec![record] },
        Intent::Undo { change: Box::new(change.clone()), shared: false },
        Intent::Undo { change: Box::new(removed), shared: false },
    ];
    for intent in refused {
        let fault = do_it(&mut ds, "Nadia", &intent).unwrap_err();
        assert!(fault.0[0].message.contains("can’t be brought back"), "{fault:?}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 32, ..ProptestConfig::default() })]
    /// Whoever it is, and whatever they take: what is refused changes nothing, and what is done is taken back whole.
    #[test]
    fn merging_and_making_again_are_taken_back_whole(a in 1u32..60, b in 1u32..60, who in 0usize..4, take in prop::collection::vec(0usize..26, 0..6)) {
        let mut ds = demo();
        let who = ["Nadia", "Tamsin", "Bex", "Pavel"][who];
        let home = table(&ds, "Faults");
        // When it was changed last is when it was taken back.
        let fields: Vec<FieldId> = ds.table(home).unwrap().def.fields.iter().filter(|f| !f.kind.is_kept_by_us()).map(|f| f.id).collect();
        let take: Vec<FieldId> = take.iter().filter_map(|place| fields.get(*place).copied()).collect();
        let intents = [
            Intent::Merge(Box::new(Merge { table: home, keep: record(a), other: record(b), take })),
            Intent::Duplicate(Box::new(Duplicate { table: home, records: vec![record(a)], by: whole() })),
        ];
        for intent in intents {
            let before = ds.clone();
            let asked: Asker = asker(&ds, who);
            let Ok(decision) = act(&mut ds, asked, &intent) else { continue };
            let steward = asker(&ds, "Nadia");
            act(&mut ds, steward, &undo(decision.change)).unwrap();
            prop_assert_eq!(records(&ds, home), records(&before, home));
            for known in &fields {
                for record in records(&ds, home) {
                    prop_assert_eq!(value(&ds, home, record, *known), value(&before, home, record, *known));
                }
            }
        }
    }
}

/// Before records go into the bin it is said what stands without them then, and which of them can't be put there.
#[test]
fn what_goes_into_the_bin_is_told_with_what_hangs_on_it_and_what_cant() {
    let mut ds = demo();
    let (faults, orders) = (table(&ds, "Faults"), field(&ds, "Faults.Work orders"));
    let told = |ds: &Dataset, who: &str, of: &[RecordId]| rehearse_bin(ds, asker(ds, who), &clock(), faults, of);
    let all = records(&ds, faults);
    let alone: Vec<RecordId> = all.iter().copied().filter(|record| linked(&ds, faults, *record, orders).is_empty()).take(2).collect();
    let bound = *all.iter().find(|record| linked(&ds, faults, **record, orders).len() == 1).expect("one with an order");
    let says = told(&ds, "Nadia", &alone[..1]).says;
    assert_eq!(says[0], "A fault goes into the bin, for 30 days.");
    let both = told(&ds, "Nadia", &[alone[0], bound]);
    assert_eq!((both.count, both.changed, both.says[0].as_str()), (2, 2, "2 faults go into the bin, for 30 days."));
    assert!(both.says[1].contains("work order") && both.says[1].ends_with(" again."), "{:?}", both.says);
    assert_eq!(records(&ds, faults), all, "nothing is put there by saying it");
    // Whoever may not: each of them is named, as far as one sees it, and none goes.
    let refused = told(&ds, "Tamsin", &all[..20]);
    assert_eq!((refused.changed, refused.refusals, refused.says.len()), (0, 20, 0));
    let lens_clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &lens_clock);
    for one in &refused.refused {
        assert_eq!(one.name.is_empty(), !tamsin.sees(faults, one.record), "{one:?}");
        assert!(!one.why.is_empty());
    }
    // What one does not see hangs on nothing that one is told of.
    do_it(&mut ds, "Nadia", &Intent::Remove { table: faults, records: vec![bound] }).unwrap();
    assert_eq!(told(&ds, "Nadia", &[bound]).refusals, 1, "it lies there already");
}
