//! Blocks of cells: over records that are there and as new ones, as one step; what does not fit is told cell by cell.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::FaultKind,
    id::{FieldId, RecordId},
    intent::{Block, BlockRehearsal, Edit, FieldChange, Intent, MOST_CELLS},
    pack::{Pack, Packing},
    value::{Input, Value},
};

const FIELDS: [&str; 4] = ["What is wrong", "Kind", "Status", "Hours needed"];

fn fields(ds: &Dataset) -> Vec<FieldId> {
    FIELDS.iter().map(|name| field(ds, &format!("Faults.{name}"))).collect()
}

fn block(ds: &Dataset, records: &[u32], cells: &[&[&str]], leave_out: bool) -> Block {
    let cells = cells.iter().map(|row| row.iter().map(|text| Some(typed(text))).collect()).collect();
    Block {
        table: table(ds, "Faults"),
        records: records.iter().map(|n| record(*n)).collect(),
        fields: fields(ds),
        cells,
        was: Vec::new(),
        leave_out,
        make: false,
    }
}

fn put(block: Block) -> Intent {
    Intent::Block(Box::new(block))
}

fn rehearsed(ds: &Dataset, who: Asker, block: &Block) -> BlockRehearsal {
    block.rehearse(ds, who, &clock()).unwrap()
}

fn whole(ds: &Dataset) -> Pack {
    Lens::new(ds, Asker::Westerfall, &clock()).pack(Packing::Records).unwrap()
}

/// Of what somebody changed after one looked, the later is told, cell by cell; the rest goes in on a word.
#[test]
fn a_block_does_not_overrule_what_somebody_changed_meanwhile() {
    let mut ds = demo();
    let (nadia, bex) = (asker(&ds, "Nadia"), asker(&ds, "Bex"));
    let (faults, title) = (table(&ds, "Faults"), fields(&ds)[0]);
    let was = [3, 4].map(|n| vec![Some(value(&ds, faults, record(n), title))]).to_vec();
    let theirs = Edit { field: title, input: typed("Somebody was quicker"), was: None };
    act(&mut ds, bex, &Intent::Edit { table: faults, record: record(4), edits: vec![theirs] }).unwrap();
    let over = Block { was, ..block(&ds, &[3, 4], &[&["Mine"], &["Mine too"], &["A new one"]], false) };
    let told = rehearsed(&ds, nadia, &over);
    assert_eq!((told.unfit, told.wrong[0].row, told.changed, told.added), (1, 2, 1, 1));
    assert!(told.wrong[0].why.starts_with("Somebody changed this meanwhile: it now says “Somebody was quicker”."), "{}", told.wrong[0].why);
    let refused = act(&mut ds, nadia, &put(over.clone())).unwrap_err();
    assert_eq!((refused.0.len(), refused.0[0].kind, refused.0[0].pointer.as_str()), (1, FaultKind::Clash, "/cells/1/0"));
    act(&mut ds, nadia, &put(Block { leave_out: true, ..over })).unwrap();
    let text = |n| Lens::of_everything(&ds, None, &clock()).text_at(faults, record(n), title);
    assert_eq!((text(3).as_str(), text(4).as_str()), ("Mine", "Somebody was quicker"));
    // Whoever wants the same as stands there by now is no clash.
    let same = Block {
        was: vec![vec![None], vec![Some(Value::Text("Another".into()))]],
        ..block(&ds, &[3, 4], &[&["Mine"], &["Somebody was quicker"]], false)
    };
    assert_eq!(rehearsed(&ds, nadia, &same).unfit, 0);
}

#[test]
fn one_goes_over_what_is_there_and_on_beneath_it_and_is_taken_back_as_one_step() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let before = whole(&ds);
    let rows: &[&[&str]] = &[
        &["Stile loose", "stile or gate", "checked", "1.5"],
        &["Sign gone", "signage", "reported", ""],
        &["New one", "surface", "reported", "2"],
    ];
    let wanted = block(&ds, &[3, 4], rows, false);
    let with_section = wanted;
    let told = rehearsed(&ds, nadia, &with_section);
    assert_eq!((told.added, told.unfit, told.refused.as_str()), (1, 0, ""));
    let decision = act(&mut ds, nadia, &put(with_section.clone())).unwrap();
    assert_eq!(decision.added.len(), 1);
    let at = with_section.table;
    let text = |number: RecordId, name: &str| {
        Lens::new(&ds, nadia, &clock()).cell_text(
            at,
            field(&ds, &format!("Faults.{name}")),
            value(&ds, at, number, field(&ds, &format!("Faults.{name}"))).as_cell(),
        )
    };
    assert_eq!((text(record(3), "What is wrong"), text(record(3), "Kind")), ("Stile loose".into(), "stile or gate".into()));
    assert_eq!(text(record(4), "Hours needed"), "");
    assert_eq!(
        (text(decision.added[0], "What is wrong"), text(decision.added[0], "Hours needed")),
        ("New one".into(), "2.0\u{a0}h".into())
    );
    act(&mut ds, nadia, &undo(decision.change)).unwrap();
    assert_eq!(whole(&ds).rows, before.rows);
}

#[test]
fn what_does_not_fit_is_told_by_row_and_field_and_stays_out_on_a_word() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let rows: &[&[&str]] = &[&["Stile loose", "a tree", "checked", "much"], &["", "signage", "reported", "3", "one too many", "two"]];
    let wanted = block(&ds, &[3, 4], rows, false);
    let faults = ds.decide(&put(wanted.clone()), nadia, &clock()).unwrap_err();
    let places: Vec<&str> = faults.0.iter().map(|fault| fault.pointer.as_str()).collect();
    assert_eq!(places, ["/cells/0/1", "/cells/0/3"]);
    let told = rehearsed(&ds, nadia, &wanted);
    assert_eq!(
        told.wrong.iter().map(|one| (one.row, one.field.as_str(), one.text.as_str())).collect::<Vec<_>>(),
        [(1, "Kind", "a tree"), (1, "Hours needed", "much")]
    );
    // An empty title is only refused where all of the record is looked at.
    assert!(told.refused.contains("What is wrong"), "{}", told.refused);
    assert!(told.says.contains(&"2 columns find no field and are left out.".to_owned()), "{:?}", told.says);
    let mut rest = wanted;
    rest.cells[1][0] = None;
    let told = rehearsed(&ds, nadia, &rest);
    assert_eq!((told.unfit, told.refused.as_str()), (2, ""));
    let changed = told.changed;
    let decision = act(&mut ds, nadia, &put(Block { leave_out: true, ..rest })).unwrap();
    assert_eq!(decision.change.ops.iter().filter(|op| op.record().is_some()).count(), changed);
}

#[test]
fn it_writes_what_its_sender_may_and_says_nothing_of_the_rest() {
    let ds = demo();
    let rows: &[&[&str]] = &[&["A", "signage", "reported", "1"]];
    // A trustee looks; a warden changes what is in their reach.
    let pavel = rehearsed(&ds, asker(&ds, "Pavel"), &block(&ds, &[3], rows, false));
    assert_eq!((pavel.unfit, pavel.changed), (4, 0));
    let tamsin = asker(&ds, "Tamsin");
    let clock = clock();
    let lens = Lens::new(&ds, tamsin, &clock);
    let at = table(&ds, "Faults");
    let theirs = lens.records(at).next().unwrap().get();
    let others = records(&ds, at).into_iter().find(|record| !lens.sees(at, *record)).unwrap().get();
    let told = rehearsed(&ds, tamsin, &block(&ds, &[theirs, others], &[rows[0], rows[0]], false));
    assert_eq!(told.unfit, 4);
    assert!(
        told.wrong.iter().all(|one| one.row == 2 && one.why == "There is no such record here, or it is not open to you."),
        "{:?}",
        told.wrong
    );
    let mut hidden = block(&ds, &[3], &[&["x"]], false);
    hidden.fields = vec![field(&ds, "Faults.Reporter")];
    assert_eq!(rehearsed(&ds, asker(&ds, "Pavel"), &hidden).changed, 0);
    let computed = Block { fields: vec![field(&ds, "Faults.Due")], ..block(&ds, &[3], &[&["1 Dec 2026"]], false) };
    assert!(rehearsed(&ds, asker(&ds, "Nadia"), &computed).wrong[0].why.contains("fills in"));
}

#[test]
fn what_is_too_large_or_twice_is_refused_in_a_sentence() {
    let ds = demo();
    let nadia = asker(&ds, "Nadia");
    let refused = |block: &Block| block.rehearse(&ds, nadia, &clock()).unwrap_err().0.remove(0);
    let row: Vec<Option<Input>> = vec![Some(typed("x")); 4];
    let large = Block { cells: vec![row; MOST_CELLS / 4 + 1], ..block(&ds, &[3], &[], false) };
    let fault = refused(&large);
    assert_eq!(fault.kind, FaultKind::TooLong);
    assert!(fault.message.starts_with("This is 100,004 cells; at most 100,000"), "{}", fault.message);
    assert_eq!(refused(&block(&ds, &[3, 3], &[], false)).kind, FaultKind::BadRule);
    let twice = Block { fields: [fields(&ds), fields(&ds)].concat(), ..block(&ds, &[3], &[], false) };
    assert_eq!(refused(&twice).kind, FaultKind::BadRule);
    assert_eq!(refused(&Block { table: westerfall_core::id::TableId::LAST, ..block(&ds, &[3], &[], false) }).kind, FaultKind::NotFound);
}

#[test]
fn selected_cells_come_to_a_sum_and_an_average_of_what_their_reader_sees() {
    let ds = demo();
    let at = table(&ds, "Faults");
    let hours = field(&ds, "Faults.Hours needed");
    let clock = clock();
    let of = |who: &str, numbers: &[RecordId]| {
        let lens = Lens::new(&ds, asker(&ds, who), &clock);
        lens.sums(at, numbers, &[hours, field(&ds, "Faults.Status")])
    };
    let all = records(&ds, at);
    let said = of("Nadia", &all[..4]);
    insta::assert_snapshot!(said.join("\n"));
    // Whoever sees none of the records is told of none.
    let lens = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let unseen: Vec<RecordId> = all.iter().copied().filter(|record| !lens.sees(at, *record)).take(4).collect();
    assert_eq!(of("Tamsin", &unseen), ["0 cells hold something"]);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(32))]

    /// A block is what each of its cells would be by itself, and is taken back whole.
    #[test]
    fn a_block_is_all_its_cells_and_comes_back_whole(picks in prop::collection::btree_map(1_u32..100, 1_u32..100, 1..8)) {
        let mut ds = demo();
        let nadia = asker(&ds, "Nadia");
        let at = table(&ds, "Faults");
        let fields = fields(&ds);
        let before = whole(&ds);
        let cell = |ds: &Dataset, from: u32, field: FieldId| Input::Value(value(ds, at, record(from), field));
        let cells = picks.values().map(|from| fields.iter().map(|field| Some(cell(&ds, *from, *field))).collect()).collect();
        let wanted = Block { table: at, records: picks.keys().map(|n| record(*n)).collect(), fields: fields.clone(), cells, was: Vec::new(), leave_out: false, make: false };
        let mut one_by_one = ds.clone();
        for (to, from) in &picks {
            let edits = fields.iter().map(|field| Edit { field: *field, input: cell(&ds, *from, *field), was: None }).collect();
            act(&mut one_by_one, nadia, &Intent::Edit { table: at, record: record(*to), edits }).unwrap();
        }
        let told = rehearsed(&ds, nadia, &wanted);
        let decision = act(&mut ds, nadia, &put(wanted)).unwrap();
        prop_assert_eq!(whole(&ds).rows, whole(&one_by_one).rows);
        let written = decision.change.ops.iter().filter(|op| op.record().is_some()).count();
        prop_assert!(told.changed <= written && told.unfit == 0);
        if written > 0 {
            act(&mut ds, nadia, &undo(decision.change)).unwrap();
        }
        prop_assert_eq!(whole(&ds).rows, before.rows);
    }
}

/// Faults by their title, kind and section, with what is named and not there.
fn named(ds: &Dataset, make: bool) -> Block {
    let at = table(ds, "Faults");
    let names = ["What is wrong", "Kind", "Section"].map(|name| field(ds, &format!("Faults.{name}")));
    let rows = [
        ["Wall down", "dry-stone wall", "Newfound Edge"],
        ["Wall bulging", "Dry-Stone Wall", "newfound edge"],
        ["Post gone", "signage", ""],
    ];
    let cells = rows.iter().map(|row| row.iter().map(|text| Some(typed(text))).collect()).collect();
    Block { table: at, records: vec![], fields: names.to_vec(), cells, was: Vec::new(), leave_out: false, make }
}

#[test]
fn what_is_named_and_not_there_is_told_and_made_on_a_word_in_the_same_step() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let before = whole(&ds);
    let told = rehearsed(&ds, nadia, &named(&ds, false));
    assert_eq!(told.unfit, 4);
    assert_eq!(told.missing.len(), 2, "{:?}", told.missing);
    assert!(told.missing[0].contains("“dry-stone wall”") && told.missing[1].contains("“Newfound Edge”"), "{:?}", told.missing);
    let sections_before = records(&ds, table(&ds, "Sections")).len();
    let making = named(&ds, true);
    let told = rehearsed(&ds, nadia, &making);
    assert_eq!((told.unfit, told.added, told.refused.as_str()), (0, 3, ""), "{:?}", told.wrong);
    assert_eq!(whole(&ds), before, "a rehearsal keeps nothing");
    let decision = act(&mut ds, nadia, &put(making.clone())).unwrap();
    let sections = table(&ds, "Sections");
    let clock = clock();
    let lens = Lens::new(&ds, nadia, &clock);
    let new: Vec<RecordId> = records(&ds, making.table).into_iter().rev().take(3).collect();
    let text = |record: RecordId, at: usize| lens.text_at(making.table, record, making.fields[at]);
    assert_eq!((text(new[2], 1), text(new[1], 1), text(new[0], 1)), ("dry-stone wall".into(), "dry-stone wall".into(), "signage".into()));
    assert_eq!((text(new[2], 2), text(new[1], 2), text(new[0], 2)), ("Newfound Edge".into(), "Newfound Edge".into(), String::new()));
    assert_eq!(records(&ds, sections).len(), sections_before + 1);
    act(&mut ds, nadia, &undo(decision.change)).unwrap();
    let after = whole(&ds);
    assert_eq!(after.rows, before.rows);
    assert_eq!(after.parts, before.parts);
}

#[test]
fn linked_records_are_put_in_by_their_names() {
    let mut ds = demo();
    let nadia = asker(&ds, "Nadia");
    let sections = table(&ds, "Sections");
    let name = {
        let clock = clock();
        Lens::new(&ds, nadia, &clock).record_name(sections, record(4)).unwrap().name
    };
    let mut one = named(&ds, false);
    one.cells = vec![vec![Some(typed("Gate off")), Some(typed("")), Some(typed(&name.to_uppercase()))]];
    act(&mut ds, nadia, &put(one.clone())).unwrap();
    let new = *records(&ds, one.table).last().unwrap();
    assert_eq!(value(&ds, one.table, new, one.fields[2]), westerfall_core::value::Value::Links(vec![record(4)]));
}

#[test]
fn who_does_not_build_makes_no_options_and_what_may_not_be_added_is_not_made() {
    let ds = demo();
    for who in ["Bex", "Tamsin"] {
        let told = rehearsed(&ds, asker(&ds, who), &named(&ds, true));
        assert!(told.unfit >= 2, "{who}: {told:?}");
        assert!(told.says.iter().all(|says| !says.contains("option")), "{who}: {:?}", told.says);
    }
}

#[test]
fn whoever_fills_in_a_field_that_grows_adds_an_option_with_the_cell_in_one_step() {
    let mut ds = demo();
    let (faults, kind) = (table(&ds, "Faults"), field(&ds, "Faults.Kind"));
    let clock = clock();
    let tamsin = asker(&ds, "Tamsin");
    let own = Lens::new(&ds, tamsin, &clock).records(faults).next().unwrap();
    let block = Block {
        table: faults,
        records: vec![own],
        fields: vec![kind],
        cells: vec![vec![Some(Input::Text("handrail".into()))]],
        was: Vec::new(),
        leave_out: false,
        make: true,
    };
    let refused = ds.decide(&Intent::Block(Box::new(block.clone())), tamsin, &clock).unwrap_err();
    assert!(refused.0[0].message.contains("is not one of the options"), "{refused:?}");
    let mut def = ds.field(kind).unwrap().1.clone();
    def.grows = true;
    let nadia = asker(&ds, "Nadia");
    act(&mut ds, nadia, &Intent::Fields { table: faults, change: FieldChange::Change { field: def, merged: Vec::new() } }).unwrap();
    act(&mut ds, tamsin, &Intent::Block(Box::new(block))).unwrap();
    let text = |ds: &Dataset| Lens::new(ds, tamsin, &clock).text_at(faults, own, kind);
    assert_eq!(text(&ds), "handrail");
    assert!(ds.field(kind).unwrap().1.kind.options().iter().any(|option| option.name == "handrail"));
}
