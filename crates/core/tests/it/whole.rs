//! A new record with its lines: looked at before it is added, added in one step, and taken back whole.

use crate::fixture::*;
use proptest::prelude::*;
use westerfall_core::{
    access::Lens,
    dataset::Dataset,
    fault::{FaultKind, Faults},
    folio::DraftLook,
    history::Op,
    id::{FieldId, RecordId},
    intent::{FieldChange, Intent, MOST_NEW_LINES, NewLine, NewRecord},
    value::Input,
};

/// A line of an order: a material, and how much of it.
fn line(ds: &Dataset, cells: &[(&str, Input)]) -> NewLine {
    let cells = cells.iter().map(|(name, input)| (field(ds, &format!("Material lines.{name}")), input.clone())).collect();
    NewLine { under: field(ds, "Work orders.Material lines"), cells }
}

fn order(ds: &Dataset, lines: Vec<NewLine>) -> NewRecord {
    NewRecord { table: table(ds, "Work orders"), cells: vec![(field(ds, "Work orders.District"), links(&[1]))], lines }
}

fn look(ds: &Dataset, who: &str, new: &NewRecord) -> Result<DraftLook, Faults> {
    ds.look_at_draft(person(ds, who), &clock(), new)
}

fn text(ds: &Dataset, at: &str, record: RecordId, name: &str) -> String {
    let clock = clock();
    Lens::new(ds, asker(ds, "Nadia"), &clock).text_at(table(ds, at), record, field(ds, &format!("{at}.{name}")))
}

fn shown(look: &DraftLook, field: FieldId) -> String {
    let place = look.fields.iter().position(|known| *known == field).unwrap();
    look.row.cells[place].as_ref().map(|cell| cell.text.clone()).unwrap_or_default()
}

/// The quantities of a field made required.
fn with_required_quantities() -> Dataset {
    let mut ds = demo();
    let (nadia, lines) = (asker(&ds, "Nadia"), table(&ds, "Material lines"));
    let mut quantity = ds.table(lines).unwrap().def.field(field(&ds, "Material lines.Quantity")).unwrap().clone();
    quantity.required = true;
    act(&mut ds, nadia, &Intent::Fields { table: lines, change: FieldChange::Change { field: quantity, merged: vec![] } }).unwrap();
    ds
}

#[test]
fn an_order_is_looked_at_with_its_lines_added_with_them_in_one_step_and_taken_back_whole() {
    let mut ds = demo();
    let (orders, lines) = (table(&ds, "Work orders"), table(&ds, "Material lines"));
    let new = order(
        &ds,
        vec![
            line(&ds, &[("Material", links(&[1])), ("Quantity", typed("4"))]),
            line(&ds, &[("Material", links(&[2])), ("Quantity", typed("2"))]),
        ],
    );
    let before = ds.clone();
    let told = look(&ds, "Nadia", &new).unwrap();
    assert_eq!(told.says, "");
    let nadia = asker(&ds, "Nadia");
    let decision = act(&mut ds, nadia, &Intent::AddWhole(Box::new(new))).unwrap();
    let [order] = decision.added[..] else { panic!("one record is named") };
    let under = linked(&ds, orders, order, field(&ds, "Work orders.Material lines"));
    assert_eq!(under.len(), 2);
    assert_eq!(under.iter().map(|r| text(&ds, "Material lines", *r, "Quantity")).collect::<Vec<_>>(), ["4", "2"]);
    assert!(under.iter().all(|r| !text(&ds, "Material lines", *r, "Unit price").is_empty()), "prices are copied as ever");
    // What it costs stood there before it was added.
    let cost = text(&ds, "Work orders", order, "Materials cost");
    assert!(cost.contains('£') && cost != "£0.00", "{cost}");
    assert_eq!(shown(&told, field(&before, "Work orders.Materials cost")), cost);
    act(&mut ds, nadia, &undo(decision.change)).unwrap();
    assert_eq!((records(&ds, orders), records(&ds, lines)), (records(&before, orders), records(&before, lines)));
}

#[test]
fn what_does_not_fit_in_a_line_and_what_it_lacks_is_named_by_its_place_and_the_rest_stands() {
    let ds = with_required_quantities();
    let new = order(
        &ds,
        vec![
            line(&ds, &[("Material", links(&[1])), ("Quantity", typed("4"))]),
            line(&ds, &[("Material", links(&[2])), ("Quantity", typed("many"))]),
            line(&ds, &[("Material", links(&[3]))]),
        ],
    );
    let told = look(&ds, "Nadia", &new).unwrap();
    assert_eq!(told.says, "Still asked: quantity in line 2 of material lines and quantity in line 3 of material lines.");
    let with = ds.with_draft(person(&ds, "Nadia"), &clock(), &new).unwrap();
    let wrong: Vec<usize> = with.lines.iter().map(|line| line.wrong.len()).collect();
    assert_eq!(wrong, [0, 1, 0]);
    assert!(with.lines.iter().all(|line| line.at.is_ok()), "a line with something wrong in it stands without that");
    let Faults(faults) = ds.decide(&Intent::AddWhole(Box::new(new)), asker(&ds, "Nadia"), &clock()).unwrap_err();
    let at = format!("/lines/1/{}", field(&ds, "Material lines.Quantity"));
    assert_eq!(faults.iter().map(|fault| fault.pointer.as_str()).collect::<Vec<_>>(), [at.as_str()]);
}

#[test]
fn lines_stand_under_what_offers_them_are_not_endless_and_are_added_by_who_may() {
    let ds = demo();
    let refused = |who: &str, new: NewRecord| {
        let Faults(faults) = ds.decide(&Intent::AddWhole(Box::new(new)), asker(&ds, who), &clock()).unwrap_err();
        faults[0].kind
    };
    let mut odd = order(&ds, vec![line(&ds, &[("Quantity", typed("4"))])]);
    odd.lines[0].under = field(&ds, "Work orders.Faults");
    assert_eq!(refused("Nadia", odd), FaultKind::NotFound, "faults are linked to an order, and are no lines of it");
    let many = order(&ds, vec![line(&ds, &[("Quantity", typed("4"))]); MOST_NEW_LINES + 1]);
    assert_eq!(refused("Nadia", many), FaultKind::TooLong);
    // A line whose link takes none is told, and the rest of the record stands.
    let mut gone = order(&ds, vec![line(&ds, &[("Quantity", typed("4"))]); 2]);
    gone.lines[0].under = field(&ds, "Work orders.Faults");
    let with = ds.with_draft(person(&ds, "Nadia"), &clock(), &gone).unwrap();
    assert_eq!(with.lines.iter().map(|line| line.at.is_ok()).collect::<Vec<_>>(), [false, true]);
    let one = order(&ds, vec![line(&ds, &[("Quantity", typed("4"))])]);
    for who in ["Marguerite", "Wren"] {
        assert!(matches!(refused(who, one.clone()), FaultKind::NotAllowed | FaultKind::NotFound), "{who}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    /// A record that comes with its lines is what it would be had they been added to it one after the other.
    #[test]
    fn with_its_lines_at_once_or_one_by_one_an_order_is_the_same(of in prop::collection::vec((1_u32..8, 0_u32..40), 0..7)) {
        let ds = demo();
        let nadia = asker(&ds, "Nadia");
        let cells = |material: u32, quantity: u32| vec![("Material", links(&[material])), ("Quantity", typed(&quantity.to_string()))];
        let new = order(&ds, of.iter().map(|(material, quantity)| line(&ds, &cells(*material, *quantity))).collect());
        let mut at_once = ds.clone();
        let whole = act(&mut at_once, nadia, &Intent::AddWhole(Box::new(new.clone()))).unwrap();
        let mut by_one = ds.clone();
        let alone = Intent::Add { table: new.table, records: vec![new.cells.clone()] };
        let made = act(&mut by_one, nadia, &alone).unwrap().added[0];
        for one in &new.lines {
            let linked = (field(&ds, "Material lines.Work order"), links(&[made.get()]));
            let records = vec![one.cells.iter().cloned().chain([linked]).collect()];
            act(&mut by_one, nadia, &Intent::Add { table: table(&ds, "Material lines"), records }).unwrap();
        }
        prop_assert_eq!(whole.added[0], made);
        for name in ["Number", "Material lines", "Materials cost", "Total", "Hourly rate"] {
            prop_assert_eq!(text(&at_once, "Work orders", made, name), text(&by_one, "Work orders", made, name));
        }
        let lines = |ds: &Dataset| records(ds, table(ds, "Material lines")).into_iter().map(|r| text(ds, "Material lines", r, "What")).collect::<Vec<_>>();
        prop_assert_eq!(lines(&at_once), lines(&by_one));
        prop_assert_eq!(whole.change.ops.iter().filter(|op| matches!(op, Op::Add { .. })).count(), of.len() + 1);
    }
}
