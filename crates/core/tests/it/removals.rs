//! What is taken away: refused where something needs it, else gone from wherever it is shown, and back as it was. Tried with
//! everything that the demo is made of, one by one.

use crate::fixture::*;
use westerfall_core::{
    access::{Asker, Lens},
    dataset::Dataset,
    fault::FaultKind,
    form::Form,
    history::Change,
    id::{FieldId, FormId, TableId},
    intent::{Edit, FieldChange, Intent, OtherSide, TableChange},
    pack::{Pack, Packing},
    part::Part,
    schema::{FieldDef, Kind, Link, TableDef},
    value::{Input, Value},
};

fn nadia(ds: &Dataset) -> Asker {
    asker(ds, "Nadia")
}

/// Structure and values, without when they were last touched.
fn whole(ds: &Dataset) -> Pack {
    Lens::new(ds, Asker::Westerfall, &clock()).pack(Packing::Records).unwrap()
}

/// Whether it is refused because something needs it; if not, it is done.
#[track_caller]
fn removed(ds: &mut Dataset, intent: &Intent) -> Result<Change, String> {
    let asker = nadia(ds);
    match act(ds, asker, intent) {
        Ok(decision) => Ok(decision.change),
        Err(mut faults) => {
            let fault = faults.0.remove(0);
            assert!(matches!(fault.kind, FaultKind::InUse | FaultKind::NotAllowed), "{intent:?}: {}", fault.message);
            Err(fault.message)
        }
    }
}

/// Taken back, everything is as it was.
#[track_caller]
fn back(mut ds: Dataset, change: Change, before: &Pack, what: &str) {
    let asker = nadia(&ds);
    act(&mut ds, asker, &undo(change)).unwrap_or_else(|faults| panic!("{what}: {faults:?}"));
    let now = whole(&ds);
    let parts: Vec<&Part> = before.parts.iter().filter(|part| !now.parts.contains(part)).collect();
    assert!(parts.is_empty() && now.parts.len() == before.parts.len(), "{what} left other parts: {parts:#?}");
    let other = before.rows.iter().zip(&now.rows).find(|(was, is)| was.columns != is.columns).map(|(was, _)| was.table);
    assert_eq!((other, now.rows.len()), (None, before.rows.len()), "{what} left other values");
}

/// Fields that people make, with their tables.
fn made_fields(ds: &Dataset) -> Vec<(TableId, FieldId, String)> {
    let of = |t: &westerfall_core::dataset::Table| {
        let made = t.def.fields.iter().filter(|f| !f.kind.is_kept_by_us());
        made.map(|f| (t.def.id, f.id, format!("{}.{}", t.def.name, f.name))).collect::<Vec<_>>()
    };
    ds.tables().flat_map(of).collect()
}

#[test]
fn every_field_goes_unless_something_needs_it_and_comes_back_as_it_was() {
    let ds = demo();
    let before = whole(&ds);
    let (mut held, mut went) = (0, 0);
    for (table, id, name) in made_fields(&ds) {
        let mut now = ds.clone();
        let needs: Vec<String> = ds.uses(table, id).into_iter().filter(|u| u.holds).map(|u| u.name).collect();
        match removed(&mut now, &Intent::Fields { table, change: FieldChange::Remove(id) }) {
            Err(message) => {
                held += 1;
                let standing = ds.table(table).unwrap().def.standing == id;
                assert!(standing || needs.iter().any(|holder| message.contains(holder.as_str())), "{name}: {message} / {needs:?}");
            }
            Ok(change) => {
                went += 1;
                assert!(needs.is_empty(), "{name} was needed by {needs:?}");
                assert!(now.field(id).is_none(), "{name} is still there");
                assert_eq!(now.uses(table, id), [], "{name} is still named");
                back(now, change, &before, &name);
            }
        }
    }
    // The demo is rich enough for both.
    assert!(held > 10 && went > 20, "{held} held, {went} went");
}

#[test]
fn what_was_in_the_bin_stands_again_with_its_values() {
    let ds = demo();
    for (table, id, name) in made_fields(&ds) {
        let mut now = ds.clone();
        if removed(&mut now, &Intent::Fields { table, change: FieldChange::Remove(id) }).is_err() {
            continue;
        }
        let steward = nadia(&now);
        act(&mut now, steward, &Intent::Fields { table, change: FieldChange::Restore(id) }).unwrap_or_else(|f| panic!("{name}: {f:?}"));
        for r in records(&ds, table) {
            assert_eq!(value(&now, table, r, id), value(&ds, table, r, id), "{name} of {r:?}");
        }
    }
}

#[test]
fn a_table_that_formulas_draw_on_stays_and_says_which() {
    let ds = demo();
    for table in ds.tables().map(|t| t.def.id).collect::<Vec<_>>() {
        let message = removed(&mut ds.clone(), &Intent::Table(TableChange::Remove(table))).unwrap_err();
        assert!(message.contains('“') && message.ends_with('.'), "{message}");
    }
}

#[test]
fn a_table_goes_with_its_links_views_and_forms_and_comes_back_with_its_records() {
    let mut ds = demo();
    let steward = nadia(&ds);
    let any = FieldId::FIRST;
    let districts = table(&ds, "Districts");
    let link = Kind::Link(Link { to: districts, back: any, one: true, holds: true });
    let fields = vec![FieldDef::new(any, "Name", Kind::Text { limit: 100 })];
    let def = TableDef::new(TableId::FIRST, "Wells", "well", any, fields);
    act(&mut ds, steward, &Intent::Table(TableChange::Add(def))).unwrap();
    let wells = table(&ds, "Wells");
    let other = Some(OtherSide { name: "Wells".into(), one: false });
    let add = FieldChange::Add { field: FieldDef::new(any, "District", link), before: None, other };
    act(&mut ds, steward, &Intent::Fields { table: wells, change: add }).unwrap();
    let (name, district) = (field(&ds, "Wells.Name"), field(&ds, "Wells.District"));
    act(&mut ds, steward, &Intent::Add { table: wells, records: vec![vec![(name, typed("Upper")), (district, links(&[2]))]] }).unwrap();
    let form = Form::begun(&ds, FormId::FIRST, wells, "A well was found", "wells").unwrap();
    act(&mut ds, steward, &Intent::Make(form.into())).unwrap();
    let before = whole(&ds);

    let mut now = ds.clone();
    let change = removed(&mut now, &Intent::Table(TableChange::Remove(wells))).unwrap();
    assert!(now.table(wells).is_none() && now.field(field(&ds, "Districts.Wells")).is_none());
    assert!(now.views().all(|v| v.table != wells) && now.forms().all(|f| f.table != wells));
    back(now.clone(), change, &before, "Wells");
    // From the bin come the records and the links; views and forms went for good, but for one that shows all.
    act(&mut now, steward, &Intent::Table(TableChange::Restore(wells))).unwrap();
    let lens_clock = clock();
    let lens = Lens::new(&now, Asker::Westerfall, &lens_clock);
    assert_eq!(lens.text_at(wells, record(1), name), "Upper");
    assert_eq!(lens.text_at(districts, record(2), field(&now, "Districts.Wells")), "Upper");
}

#[test]
fn every_view_form_role_and_automation_can_be_dropped_and_taken_back_but_a_form_that_something_waits_for() {
    let ds = demo();
    let before = whole(&ds);
    let parts = before.parts.iter().filter(|p| !matches!(p, Part::Table(_) | Part::Tracker(_))).cloned();
    let mut held = Vec::new();
    for part in parts.collect::<Vec<_>>() {
        let what = format!("{} {}", part.key().0, part.title());
        let mut now = ds.clone();
        match removed(&mut now, &Intent::Drop(part.clone())) {
            Err(message) => held.push(format!("{what}: {message}")),
            Ok(change) => {
                assert!(now.part_at(part.key().0, part.key().1).is_none(), "{what} is still there");
                back(now, change, &before, &what);
            }
        }
    }
    insta::assert_snapshot!(held.join("\n"));
}

#[test]
fn an_option_in_use_goes_only_into_another_or_into_nothing_and_the_records_with_it() {
    let ds = demo();
    let before = whole(&ds);
    let (mut held, mut went) = (Vec::new(), 0);
    for (table, id, name) in made_fields(&ds) {
        let (_, def) = ds.field(id).unwrap();
        let Kind::Choice { options, .. } = &def.kind else { continue };
        let (gone, other) = (options[0].id, options[1].id);
        let holds = |ds: &Dataset, option| {
            let is = |r: &westerfall_core::id::RecordId| value(ds, table, *r, id) == Value::Choice(option);
            records(ds, table).iter().filter(|r| is(r)).count()
        };
        let (was, others) = (holds(&ds, gone), holds(&ds, other));
        let mut left = def.clone();
        let Kind::Choice { options, .. } = &mut left.kind else { unreachable!() };
        options.retain(|o| o.id != gone);
        let change = |merged| Intent::Fields { table, change: FieldChange::Change { field: left.clone(), merged } };
        // As it stands, a view or a rule may name it too; into another, all of them follow.
        if was > 0 {
            assert!(removed(&mut ds.clone(), &change(Vec::new())).is_err(), "{name}");
        }
        let mut now = ds.clone();
        let step = match removed(&mut now, &change(vec![(gone, Some(other))])) {
            Ok(step) => step,
            Err(message) => {
                held.push(format!("{name}: {message}"));
                continue;
            }
        };
        went += 1;
        assert_eq!(holds(&now, other), was + others, "{name}");
        assert_eq!(now.uses_of_option(gone), [], "{name}");
        // Whoever carries a record into its lane meanwhile is told, and nothing of it is kept.
        let edits = vec![Edit { field: id, input: Input::Value(Value::Choice(gone)), was: None }];
        let carried = Intent::EditSeveral { table, records: records(&now, table).into_iter().take(2).collect(), edits };
        let refused = act(&mut now.clone(), nadia(&now), &carried).unwrap_err().0.remove(0);
        assert_eq!(refused.message, format!("“{}” has no such option any more. Choose another.", def.name));
        back(now, step, &before, &name);
    }
    // The demo has few choices that neither a formula nor a form nor another choice names by an option.
    assert!(went > 3, "{went} went");
    insta::assert_snapshot!(held.join("\n"));
}
