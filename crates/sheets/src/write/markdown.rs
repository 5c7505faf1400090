//! Markdown: a table for each group beneath its heading, to be read and to be put into other texts.

use super::{Column, Head, Line, Writer};
use westerfall_core::export::{Filed, ListedFigure};

pub(super) struct Markdown {
    columns: Vec<Column>,
    text: String,
    /// A table is open: its head stands there already.
    within: bool,
}

/// Deepest heading that there is.
const DEEPEST: usize = 6;

impl Markdown {
    pub(super) fn begin(head: Head<'_>) -> Self {
        Self { columns: head.columns.to_vec(), text: format!("# {}\n", plain(head.name)), within: false }
    }

    fn row(&mut self, cells: impl Iterator<Item = String>) {
        for cell in cells {
            self.text.push_str("| ");
            self.text.push_str(&cell);
            self.text.push(' ');
        }
        self.text.push_str("|\n");
    }

    fn table(&mut self) {
        self.text.push('\n');
        let names: Vec<String> = self.columns.iter().map(|column| plain(&column.name)).collect();
        let sides: Vec<String> = self.columns.iter().map(|column| if column.number { "---:" } else { "---" }.to_owned()).collect();
        self.row(names.into_iter());
        self.row(sides.into_iter());
    }

    /// *3 faults; Hours: sum 14.5*
    fn figured(&self, counted: &str, figures: &[ListedFigure]) -> String {
        let figure = |figure: &ListedFigure| {
            let column = self.columns.get(figure.column).map_or("", |column| column.name.as_str());
            format!("; {}: {} {}", plain(column), figure.word, plain(&figure.text))
        };
        plain(counted) + &figures.iter().map(figure).collect::<String>()
    }
}

impl Writer for Markdown {
    fn line(&mut self, line: Line<'_>) -> Result<(), String> {
        match line {
            Line::Group(group) => {
                let depth = "#".repeat(group.depth.saturating_add(2).min(DEEPEST));
                let figured = self.figured(&group.counted, &group.figures);
                self.text.push_str(&format!("\n{depth} {}\n\n{figured}\n", plain(&group.text)));
                self.within = false;
            }
            Line::Record { cells, .. } => {
                if !std::mem::replace(&mut self.within, true) {
                    self.table();
                }
                let columns = self.columns.len();
                self.row((0..columns).map(|at| cells.get(at).map(cell).unwrap_or_default()));
            }
            Line::Foot(counted, figures) => {
                let figured = self.figured(counted, figures);
                self.text.push_str(&format!("\n**In all: {figured}**\n"));
            }
        }
        Ok(())
    }

    fn finish(self: Box<Self>) -> Result<Vec<u8>, String> {
        Ok(self.text.into_bytes())
    }
}

fn cell(filed: &Filed) -> String {
    let text = plain(&filed.raw.words());
    // A closing bracket would end the address, a space would too.
    let leads = filed.leads.as_ref().filter(|_| !text.is_empty());
    leads.map_or(text.clone(), |leads| format!("[{text}](<{}>)", leads.replace(['<', '>', '\n', '\r'], "").replace('|', "%7C")))
}

/// A text in which nothing is a sign of Markdown or of HTML, on one line.
fn plain(text: &str) -> String {
    let mut safe = String::with_capacity(text.len());
    let mut begins = true;
    for char in text.replace("\r\n", "\n").chars() {
        match char {
            '\\' | '`' | '*' | '_' | '[' | ']' | '<' | '>' | '|' | '&' | '~' | '$' | '!' => {
                safe.push('\\');
                safe.push(char);
            }
            // At the beginning it would make a list, a heading or a quotation.
            '#' | '+' | '-' | '=' if begins => {
                safe.push('\\');
                safe.push(char);
            }
            '\n' | '\r' => safe.push_str("<br>"),
            other => safe.push(other),
        }
        begins = false;
    }
    safe
}
