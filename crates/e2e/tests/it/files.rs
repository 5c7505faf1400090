//! Files: brought by choosing and by dropping, looked at large, found by what stands in them, and gone for good with the bin.

use thirtyfour::prelude::*;
use westerfall_e2e::{Driver, Server};

/// A PDF of one page with a line of text, written by hand.
fn pdf(text: &str) -> Vec<u8> {
    let page = format!("BT /F1 18 Tf 72 760 Td ({text}) Tj ET");
    let parts = [
        "<< /Type /Catalog /Pages 2 0 R >>".to_owned(),
        "<< /Type /Pages /Kids [3 0 R] /Count 1 >>".to_owned(),
        "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 595 842] /Contents 4 0 R /Resources << /Font << /F1 5 0 R >> >> >>".to_owned(),
        format!("<< /Length {} >>\nstream\n{page}\nendstream", page.len()),
        "<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica >>".to_owned(),
    ];
    let (mut file, mut table) = ("%PDF-1.4\n".to_owned(), String::new());
    for (part, number) in parts.iter().zip(1..) {
        table.push_str(&format!("{:010} 00000 n \n", file.len()));
        file.push_str(&format!("{number} 0 obj\n{part}\nendobj\n"));
    }
    let at = file.len();
    file.push_str(&format!("xref\n0 6\n0000000000 65535 f \n{table}trailer << /Size 6 /Root 1 0 R >>\nstartxref\n{at}\n%%EOF"));
    file.into_bytes()
}

/// Files dropped on what a selector finds, as a browser hands them over.
async fn drop_text(person: &westerfall_e2e::Browser, css: &str, name: &str, text: &str) {
    let done = person
        .script(&format!(
            "const data = new DataTransfer(); data.items.add(new File([{text:?}], {name:?}, {{ type: 'text/plain' }}));
             const cell = document.querySelector({css:?});
             const fire = (type) => cell.dispatchEvent(new DragEvent(type, {{ dataTransfer: data, bubbles: true, cancelable: true }}));
             const taken = !fire('dragover'); fire('drop'); return taken"
        ))
        .await;
    assert_eq!(done, serde_json::json!(true), "files may be dropped on {css}");
}

#[tokio::test(flavor = "multi_thread")]
async fn files_are_brought_looked_at_found_by_their_words_and_gone_with_the_bin() {
    let server = Server::start(120).await;
    let driver = Driver::start().await;
    let nadia = driver.browser(&server, 1280, 800).await;
    nadia.walk_in("Nadia Ferreira-Holt").await;
    nadia.go("/t/1/3/r/98").await;
    nadia.see(".folio .files").await;

    // A PDF, a picture that is none: the one is taken, of the other it is said why not.
    let folder = std::env::temp_dir().join(format!("westerfall-files-{}", std::process::id()));
    std::fs::create_dir_all(&folder).expect("a folder");
    let (survey, odd) = (folder.join("survey.pdf"), folder.join("odd.jpg"));
    std::fs::write(&survey, pdf("Survey of the quillwort meadow")).expect("a file");
    std::fs::write(&odd, "no picture").expect("a file");
    nadia.give_file(".files input[type=file]", &survey).await;
    nadia.text("button", "survey.pdf").await;
    nadia.give_file(".files input[type=file]", &odd).await;
    nadia.text("span", "is called a picture, and is something else inside").await;
    nadia.is_open_to_all("files and what was not taken").await;
    nadia.press("button", "leave it").await;

    // Dropped on the folio; looked at large and walked by keys.
    drop_text(&nadia, ".folio .files", "notes.txt", "Larch brash by the weir").await;
    nadia.press("button", "notes.txt").await;
    nadia.text("pre", "Larch brash by the weir").await;
    nadia.is_open_to_all("a file looked at large").await;
    nadia.keys(Key::Left).await;
    nadia.text("h2", "survey.pdf").await;
    nadia.keys(Key::Escape).await;

    // Brought to what is said, which it may be alone; looked at there.
    nadia.give_file("[data-test=talk-files]", &survey).await;
    nadia.click("[data-test=talk-say]:not([disabled])").await;
    nadia.click(".comment button.name").await;
    nadia.text("h2", "survey.pdf").await;
    nadia.keys(Key::Escape).await;
    drop_text(&nadia, ".folio [data-test=talk-box]", "price.txt", "Two posts").await;
    nadia.text("span", "price.txt").await;
    nadia.is_open_to_all("a file that is about to be said").await;
    nadia.click(".sends [aria-label^='take out']").await;
    nadia.until("it is not said", || async { nadia.count(".sends").await == 0 }).await;

    // Dropped on its cell of a row, in a view that shows it.
    nadia.go("/t/1/2/104").await;
    nadia.see(".row .cell").await;
    drop_text(&nadia, ".row .cell[data-field='Picture']", "more.txt", "more").await;
    nadia.text("span", "more.txt").await;

    // Found by a word of the PDF, once it was read.
    for _ in 0..20 {
        nadia.go("/t/1/find?words=quillwort").await;
        tokio::time::sleep(std::time::Duration::from_secs(1)).await;
        if nadia.count("mark").await > 0 {
            break;
        }
    }
    nadia.text("mark", "quillwort").await;
    nadia.close().await;
    let _ = std::fs::remove_dir_all(folder);
}
