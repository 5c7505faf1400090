//! What the cells of a block come to: said while they are selected.

use crate::{
    access::Lens,
    id::{FieldId, RecordId, TableId},
    value::Cell,
};
use rust_decimal::Decimal;

impl Lens<'_> {
    /// Of each field that holds numbers, its sum and average over some records, in words; then how many of the cells hold something.
    pub fn sums(&self, table: TableId, records: &[RecordId], fields: &[FieldId]) -> Vec<String> {
        let customs = self.clock().customs();
        let mut says = Vec::new();
        let mut filled: usize = 0;
        for field in fields.iter().filter(|field| self.reads(table, **field)) {
            let Some((_, kind)) = self.dataset().shown_kind(table, *field) else { continue };
            let reader = self.reader(table, *field);
            let (mut sum, mut count) = (Some(Decimal::ZERO), 0_u32);
            for record in records.iter().filter(|record| self.sees(table, **record)) {
                let cells = reader.cells(record.row());
                filled = filled.saturating_add(usize::from(cells.iter().any(|cell| !reader.is_empty(*cell))));
                for cell in cells.iter() {
                    if let Cell::Number(number) = cell {
                        sum = sum.and_then(|sum| sum.checked_add(*number));
                        count = count.saturating_add(1);
                    }
                }
            }
            let kind = kind.shows();
            let name =
                self.dataset().table(table).and_then(|home| home.def.field(*field)).map(|def| crate::schema::within_sentence(&def.name));
            let (Some(name), true, true) = (name, kind.is_number(), count > 1) else { continue };
            let words = |number: Decimal| kind.number_words(number, 0, customs);
            says.push(match sum.and_then(|sum| Some((sum, sum.checked_div(Decimal::from(count))?))) {
                Some((sum, average)) => format!("{name}: sum {}, average {}", words(sum), words(average.round_dp(2).normalize())),
                None => format!("{name}: too large to be summed"),
            });
        }
        says.push(customs.count_words(filled, "cell holds something", "cells hold something"));
        says
    }
}
