//! A formula from its text, with its type, and back.

use super::{Formula, FormulaFault, Parsed, ResultType, check, parse, write};
use crate::{dataset::Dataset, id::TableId};
use std::sync::Arc;

impl Formula {
    /// Reads a typed formula of a table.
    pub fn read(text: &str, ds: &Dataset, table: TableId) -> Parsed {
        let (mut node, mut faults) = parse::parse(text, Some((ds, table)));
        let result = check::result_type(ds, table, &mut node, &mut faults, true);
        faults.sort_by_key(|f| f.span.from);
        faults.dedup_by_key(|f| f.span);
        for fault in &mut faults {
            fault.span = fault.span.in_utf16(text);
        }
        Parsed { formula: Formula(Arc::new(node)), result, faults }
    }

    /// The type of its result, as the dataset is now, and what does not fit any more.
    pub fn result_type(&self, ds: &Dataset, table: TableId) -> (ResultType, Vec<FormulaFault>) {
        let mut faults = Vec::new();
        let result = check::result_type(ds, table, &mut (*self.0).clone(), &mut faults, false);
        (result, faults)
    }

    /// The formula as one types it, with the names of now.
    pub fn text(&self, ds: &Dataset) -> String {
        write::text(&self.0, Some(ds))
    }
}
