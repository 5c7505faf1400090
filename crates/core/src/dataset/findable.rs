//! Making ready what words are looked for in, for all columns at once.

use super::{Column, Dataset};

impl Dataset {
    /// Folds what was not folded since it changed, so that the first who looks for something waits no longer than others.
    pub fn make_findable(&self) {
        self.columns().for_each(|column| match column {
            Column::Text(texts) => texts.fold(),
            Column::Files(files) => files.fold(),
            Column::Any(values) => values.fold(),
            _ => {}
        });
    }

    /// Bytes that finding takes beside the records.
    pub fn said_bytes(&self) -> usize {
        let of = |column: &Column| match column {
            Column::Text(texts) => texts.said_bytes(),
            Column::Files(files) => files.said_bytes(),
            Column::Any(values) => values.said_bytes(),
            _ => 0,
        };
        self.columns().map(of).fold(0, usize::saturating_add)
    }

    fn columns(&self) -> impl Iterator<Item = &Column> {
        self.tables.values().flat_map(|table| table.columns.values()).map(|column| &**column)
    }
}
