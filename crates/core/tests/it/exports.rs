//! What goes out as a file: typed, in the order asked, and nothing that its reader may not see.

use crate::fixture::*;
use westerfall_core::{
    access::Lens,
    id::{FieldId, RecordId},
    import::Raw,
};

fn fields(names: &[&str]) -> Vec<FieldId> {
    names.iter().map(|name| field(&demo(), &format!("Faults.{name}"))).collect()
}

fn rows(who: &str, records: &[RecordId], names: &[&str]) -> Vec<Vec<Raw>> {
    let (ds, clock) = (demo(), clock());
    Lens::new(&ds, asker(&ds, who), &clock).raw_rows(table(&ds, "Faults"), records, &fields(names))
}

#[test]
fn cells_keep_their_type_and_the_order_that_was_asked_for() {
    let names = ["Hours needed", "Number", "Planned for", "Created at", "Status", "Section", "Days open"];
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let told = rows("Nadia", &all, &names);
    assert_eq!(told.len(), all.len());
    let is = |place: usize, fits: fn(&Raw) -> bool| {
        told.iter().all(|row| row.len() == names.len() && (fits(&row[place]) || row[place] == Raw::Empty))
    };
    assert!(is(0, |raw| matches!(raw, Raw::Number(_))));
    assert!(is(1, |raw| matches!(raw, Raw::Text(text) if text.starts_with("FR-"))));
    assert!(is(2, |raw| matches!(raw, Raw::Date(_))));
    assert!(is(3, |raw| matches!(raw, Raw::DateTime(_))));
    assert!(is(4, |raw| matches!(raw, Raw::Text(_))));
    assert!(is(5, |raw| matches!(raw, Raw::Text(text) if text.contains(" to "))));
    assert!(is(6, |raw| matches!(raw, Raw::Number(_))));
    let other: Vec<&str> = names.iter().rev().copied().collect();
    let turned = rows("Nadia", &all, &other);
    assert!(told.iter().zip(&turned).all(|(row, back)| row.iter().eq(back.iter().rev())));
}

#[test]
fn records_come_in_the_order_of_the_view_and_out_of_reach_not_at_all() {
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let last_first: Vec<RecordId> = all.iter().rev().copied().collect();
    let (forth, back) = (rows("Nadia", &all, &["Number"]), rows("Nadia", &last_first, &["Number"]));
    assert!(forth.iter().eq(back.iter().rev()));
    let clock = clock();
    let tamsin = Lens::new(&ds, asker(&ds, "Tamsin"), &clock);
    let seen: Vec<RecordId> = all.iter().copied().filter(|r| tamsin.sees(table(&ds, "Faults"), *r)).collect();
    assert!(seen.len() < all.len());
    assert_eq!(rows("Tamsin", &all, &["Number"]), rows("Nadia", &seen, &["Number"]));
    assert!(rows("Wren", &all, &["Number"]).len() < seen.len());
}

#[test]
fn a_field_that_is_hidden_is_no_column() {
    let ds = demo();
    let all = records(&ds, table(&ds, "Faults"));
    let open = rows("Nadia", &all[..3], &["Number", "Reporter", "Reporter’s mail", "Status"]);
    let told = rows("Pavel", &all[..3], &["Number", "Reporter", "Reporter’s mail", "Status"]);
    assert!(open.iter().all(|row| row.len() == 4));
    // A trustee sees neither who reported nor their address.
    assert!(told.iter().zip(&open).all(|(row, whole)| *row == [whole[0].clone(), whole[3].clone()]), "{told:?}");
}
