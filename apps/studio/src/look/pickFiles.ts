/** Lets a person choose files of this device. @param testId by which tests find what the browser opens for it */
export function pickFiles(accept: string, multiple: boolean, testId: string, onFiles: (files: File[]) => void): void {
  const input = document.createElement('input');
  input.type = 'file';
  input.multiple = multiple;
  input.accept = accept;
  input.dataset.testid = testId;
  input.style.display = 'none';
  document.body.append(input);
  input.onchange = () => {
    onFiles(Array.from(input.files ?? []));
    input.remove();
  };
  input.oncancel = () => input.remove();
  input.click();
}
