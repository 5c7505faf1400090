//! What a cross-tab says of itself.

use super::Crossing;
use crate::{
    access::Lens,
    id::{FieldId, TableId},
    schema::within_sentence,
    value::list_text,
    view::{
        TallyFigure,
        words::{counted, figure_words},
    },
};

pub(super) fn field(lens: &Lens<'_>, table: TableId, field: FieldId) -> String {
    let def = lens.dataset().table(table).and_then(|home| home.def.field(field));
    def.map_or_else(|| "a field that is gone".to_owned(), |def| within_sentence(&def.name))
}

/// *a stroke is a fault*, *a stroke is 5 faults*.
pub(super) fn stroke(lens: &Lens<'_>, table: TableId, each: usize) -> String {
    let one = lens.dataset().table(table).map(|home| home.def.one.clone()).unwrap_or_default();
    let records = if each == 1 { crate::sentence::a_or_an(&one) } else { counted(lens, table, each) };
    format!("a stroke is {records}")
}

/// *8 faults; the sum of hours needed is 36.0 h. That is 27 % of the 30 of Harrow Tarn and 8 % of all 97.*
pub(super) fn says(crossing: &Crossing<'_, '_>, figures: &[TallyFigure], count: usize, shares: &[String]) -> String {
    let records = counted(crossing.lens, crossing.table, count);
    let told = crossing.query.tallies.iter().zip(figures).filter(|(_, told)| !told.text.is_empty());
    let figures: Vec<String> =
        told.map(|(tally, told)| format!("{} is {}", figure_words(crossing.lens, crossing.table, *tally), told.text)).collect();
    let figures = if figures.is_empty() { String::new() } else { format!("; {}", list_text(&figures, "and")) };
    let of = if crossing.leads_with_figure() { "By that figure it is" } else { "That is" };
    let shares = if shares.is_empty() || count == 0 { String::new() } else { format!(" {of} {}.", list_text(shares, "and")) };
    format!("{records}{figures}.{shares}")
}
