//! Whatever way a value comes in, the same is asked of it: typed into a cell, with a new record, in several at once, by a form,
//! by a file, by taking something back.

use crate::fixture::*;
use std::sync::Arc;
use westerfall_core::{
    access::Asker,
    dataset::Dataset,
    fault::{FaultKind, Faults},
    form::{Form, Question},
    id::{FieldId, FormId, OptionId, TableId},
    import::{Becomes, ColumnPlan, Heading, ImportInto, Plan, Raw, Sheet, Unmatched},
    intent::{Edit, FieldChange, Import, Intent, TableChange},
    schema::{Choice, FieldDef, Hue, Kind, Preset, TableDef},
    value::{CellValue, Input, Value},
};

/// A table of one field with a rule, beside a name; one record of which holds *taken* in it.
struct Ground {
    ds: Dataset,
    table: TableId,
    name: FieldId,
    it: FieldId,
    form: FormId,
}

fn option(number: u32, name: &str) -> Choice {
    Choice { id: OptionId::new(number).unwrap(), name: name.into(), hue: Hue::Clay, under: None }
}

fn ground(field_def: impl FnOnce(FieldDef) -> FieldDef, kind: Kind, taken: &str) -> Ground {
    let mut ds = demo();
    let steward = asker(&ds, "Nadia");
    let any = FieldId::FIRST;
    let fields = vec![FieldDef::new(any, "Name", Kind::Text { limit: 100 })];
    let def = TableDef::new(TableId::FIRST, "Wells", "well", any, fields);
    act(&mut ds, steward, &Intent::Table(TableChange::Add(def))).unwrap();
    let table = table(&ds, "Wells");
    let add = FieldChange::Add { field: field_def(FieldDef::new(any, "It", kind)), before: None, other: None };
    act(&mut ds, steward, &Intent::Fields { table, change: add }).unwrap();
    let (name, it) = (field(&ds, "Wells.Name"), field(&ds, "Wells.It"));
    act(&mut ds, steward, &Intent::Add { table, records: vec![vec![(name, typed("First")), (it, typed(taken))]] }).unwrap();
    let mut form = Form::begun(&ds, FormId::FIRST, table, "A well", "wells").unwrap();
    form.open = true;
    form.questions =
        [(name, "Name"), (it, "It")].map(|(field, label)| Question { required: field == name, ..Question::new(field, label) }).into();
    if ds.field(it).unwrap().1.required {
        form.questions[1].required = true;
    }
    let made = act(&mut ds, steward, &Intent::Make(form.into())).unwrap().made.unwrap();
    Ground { ds, table, name, it, form: FormId::new(made).unwrap() }
}

impl Ground {
    /// What comes of a text in a new record, by each way in which one can come: none where it is taken, else kind and place.
    fn tried(&self, text: &str) -> Vec<(&'static str, Option<(FaultKind, String)>)> {
        let steward = asker(&self.ds, "Nadia");
        let cells = || vec![(self.name, typed("Second")), (self.it, typed(text))];
        let first = |faults: Faults| (faults.0[0].kind, faults.0[0].pointer.clone());
        let told = |intent: &Intent, who: Asker| self.ds.decide(intent, who, &clock()).err().map(first);
        let edit =
            Intent::Edit { table: self.table, record: record(1), edits: vec![Edit { field: self.it, input: typed(text), was: None }] };
        let answer = Intent::Send { form: self.form, answer: cells().into() };
        vec![
            ("add", told(&Intent::Add { table: self.table, records: vec![cells()] }, steward)),
            ("begin", told(&Intent::Begin { table: self.table, cells: cells() }, steward)),
            ("edit", told(&edit, steward)),
            ("send", told(&answer, Asker::Form(self.form))),
            ("file", self.by_file(text)),
        ]
    }

    fn by_file(&self, text: &str) -> Option<(FaultKind, String)> {
        let cell = |text: &str| if text.is_empty() { Raw::Empty } else { Raw::Text(text.into()) };
        let rows = [["Name", "It"], ["Second", text]].map(|row| row.map(cell).to_vec()).to_vec();
        let column = |place: usize, field: FieldId| ColumnPlan {
            becomes: Becomes::Existing { field, unmatched: Unmatched::Flag },
            ..ColumnPlan::new(place, "c")
        };
        let plan = Plan {
            heading: Heading::row(0),
            without: Vec::new(),
            into: ImportInto::Table { table: self.table, key: None },
            columns: vec![column(0, self.name), column(1, self.it)],
        };
        let sheet = Arc::new(Sheet { name: "s".into(), rows: rows.into_iter().collect(), ..Sheet::default() });
        let told = self.ds.rehearse_import(&Import { plan, sheet }, asker(&self.ds, "Nadia"), &clock()).unwrap();
        // A file lists what it leaves out, by row and column.
        told.rejected.first().map(|r| (FaultKind::WrongKind, format!("{}: {}", r.row, r.value)))
    }
}

/// Where each way in points, for a fault of one kind in all of them.
#[track_caller]
fn refused(ground: &Ground, text: &str, kind: FaultKind) {
    let it = ground.it;
    let places =
        [format!("/records/0/{it}"), format!("/records/0/{it}"), "/edits/0".into(), format!("/answers/{it}"), format!("2: {text}")];
    for ((way, told), place) in ground.tried(text).into_iter().zip(places) {
        let (told, pointer) = told.unwrap_or_else(|| panic!("by {way} “{text}” was taken"));
        assert!(way == "file" || told == kind, "by {way}: {told:?}");
        assert_eq!(pointer, place, "by {way}");
    }
}

#[track_caller]
fn taken(ground: &Ground, text: &str) {
    for (way, told) in ground.tried(text) {
        assert_eq!(told, None, "by {way} “{text}” was refused");
    }
}

#[test]
fn a_value_of_another_kind_is_refused_by_every_way_in() {
    let depth = ground(|f| f, Kind::Number { decimals: 1, unit: "m".into() }, "3");
    refused(&depth, "deep", FaultKind::WrongKind);
    taken(&depth, "12.5 m");
    let dug = ground(|f| f, Kind::Date, "2026-01-03");
    refused(&dug, "30 Feb 2026", FaultKind::WrongKind);
    taken(&dug, "28 Feb 2026");
    let mail = ground(|f| f, Kind::Email, "a@wells.example");
    refused(&mail, "nobody", FaultKind::WrongKind);
    let stars = ground(|f| f, Kind::Rating { most: 5 }, "3");
    refused(&stars, "6", FaultKind::WrongKind);
    taken(&stars, "5");
}

#[test]
fn an_option_that_is_not_there_is_refused_by_every_way_in() {
    let kind = Kind::Choice { options: vec![option(1, "stone"), option(2, "brick")], on: None };
    let lined = ground(|f| f, kind, "stone");
    refused(&lined, "timber", FaultKind::UnknownOption);
    taken(&lined, "BRICK");
}

#[test]
fn a_text_over_its_limit_is_refused_by_every_way_in() {
    let code = ground(|f| f, Kind::Text { limit: 5 }, "abc");
    refused(&code, "abcdef", FaultKind::TooLong);
    taken(&code, "ébcde");
}

#[test]
fn what_stands_elsewhere_already_is_refused_by_every_way_in_but_where_it_stands() {
    let code = ground(|f| FieldDef { unique: true, ..f }, Kind::Text { limit: 20 }, "W-1");
    let told = code.tried(" w-1 ");
    for (way, told) in &told {
        // In the record that holds it, it may be written again.
        assert_eq!(told.is_none(), *way == "edit", "by {way}: {told:?}");
    }
    taken(&code, "W-2");
    taken(&code, "");
}

#[test]
fn what_is_required_may_be_left_out_only_while_one_still_types() {
    let code = ground(|f| FieldDef { required: true, ..f }, Kind::Text { limit: 20 }, "W-1");
    let told: Vec<_> = code.tried("").into_iter().map(|(way, told)| (way, told.map(|(kind, _)| kind))).collect();
    assert_eq!(told[0..4], [("add", None), ("begin", None), ("edit", Some(FaultKind::Missing)), ("send", Some(FaultKind::Missing))]);
    // What was begun without it waits: it is told as a loose end.
    let mut ds = code.ds.clone();
    let steward = asker(&ds, "Nadia");
    act(&mut ds, steward, &Intent::Begin { table: code.table, cells: vec![(code.name, typed("Second"))] }).unwrap();
    let now = clock();
    let ends = westerfall_core::access::Lens::new(&ds, steward, &now).loose_ends();
    assert!(ends.iter().any(|end| end.words == "1 well without “It”"), "{ends:?}");
}

#[test]
fn what_a_field_begins_with_stands_in_whatever_comes_without_it() {
    let option_stone = Some(Preset::Value(CellValue::Choice(OptionId::new(1).unwrap())));
    let kind = Kind::Choice { options: vec![option(1, "stone"), option(2, "brick")], on: None };
    let mut lined = ground(|f| FieldDef { preset: option_stone, ..f }, kind, "brick");
    let stone = {
        let (_, def) = lined.ds.field(lined.it).unwrap();
        let Some(Preset::Value(CellValue::Choice(option))) = def.preset else { panic!("{:?}", def.preset) };
        Value::Choice(option)
    };
    let steward = asker(&lined.ds, "Nadia");
    let name = |text: &str| vec![(lined.name, typed(text))];
    for (intent, who) in [
        (Intent::Add { table: lined.table, records: vec![name("Added")] }, steward),
        (Intent::Begin { table: lined.table, cells: name("Begun") }, steward),
        (Intent::Send { form: lined.form, answer: name("Sent").into() }, Asker::Form(lined.form)),
    ] {
        let added = act(&mut lined.ds, who, &intent).unwrap().added[0];
        assert_eq!(value(&lined.ds, lined.table, added, lined.it), stone, "{intent:?}");
    }
    // Emptied afterwards, it is empty, and stays so.
    let empty = vec![Edit { field: lined.it, input: Input::Value(Value::Empty), was: None }];
    act(&mut lined.ds, steward, &Intent::Edit { table: lined.table, record: record(2), edits: empty }).unwrap();
    assert_eq!(value(&lined.ds, lined.table, record(2), lined.it), Value::Empty);
}

#[test]
fn of_several_at_once_each_fault_is_told_at_its_record_and_none_is_kept() {
    let depth = ground(|f| f, Kind::Number { decimals: 0, unit: String::new() }, "3");
    let row = |text: &str| vec![(depth.name, typed("x")), (depth.it, typed(text))];
    let three = Intent::Add { table: depth.table, records: vec![row("7"), row("deep"), row("8"), row("deeper")] };
    let faults = depth.ds.decide(&three, asker(&depth.ds, "Nadia"), &clock()).unwrap_err();
    let places: Vec<&str> = faults.0.iter().map(|fault| fault.pointer.as_str()).collect();
    assert_eq!(places, [format!("/records/1/{}", depth.it), format!("/records/3/{}", depth.it)]);
}
