import { fireEvent, render, screen } from '@testing-library/react-native';
import { Choice } from '../../src/look/Choice';
import { FigureField } from '../../src/look/Field';

describe('a figure of the card', () => {
  it('takes what is typed when it is entered, and shows the old value again when that made no sense', () => {
    const onSubmit = jest.fn((text: string) => (text === 'soon' ? 'Write a time.' : null));
    render(<FigureField label="Length" value="0:02.00" onSubmit={onSubmit} testID="length" />);
    const field = screen.getByTestId('length');
    fireEvent(field, 'focus');
    fireEvent.changeText(field, 'soon');
    fireEvent(field, 'submitEditing');
    expect(onSubmit).toHaveBeenCalledWith('soon');
    expect(screen.getByText('Write a time.')).toBeTruthy();
    expect(screen.getByTestId('length').props.value).toBe('0:02.00');
    fireEvent(field, 'focus');
    fireEvent.changeText(field, '0:03.00');
    fireEvent(field, 'submitEditing');
    expect(onSubmit).toHaveBeenLastCalledWith('0:03.00');
    expect(screen.queryByText('Write a time.')).toBeNull();
  });

  it('is not submitted when nothing was changed, nor twice for one entry', () => {
    const onSubmit = jest.fn(() => null);
    render(<FigureField label="Length" value="0:02.00" onSubmit={onSubmit} testID="length" />);
    const field = screen.getByTestId('length');
    fireEvent(field, 'focus');
    fireEvent(field, 'blur');
    expect(onSubmit).not.toHaveBeenCalled();
    fireEvent(field, 'focus');
    fireEvent.changeText(field, '4.00');
    fireEvent(field, 'submitEditing');
    fireEvent(field, 'blur');
    expect(onSubmit).toHaveBeenCalledTimes(1);
  });

  it('is stepped by the arrow keys and left by Escape', () => {
    const onStep = jest.fn();
    const onSubmit = jest.fn(() => null);
    render(<FigureField label="Level" value="0 dB" onSubmit={onSubmit} onStep={onStep} testID="level" />);
    const field = screen.getByTestId('level');
    for (const key of ['ArrowUp', 'ArrowDown']) fireEvent(field, 'keyPress', { nativeEvent: { key } });
    expect(onStep.mock.calls).toEqual([[1], [-1]]);
    fireEvent(field, 'focus');
    fireEvent.changeText(field, '-12');
    fireEvent(field, 'keyPress', { nativeEvent: { key: 'Escape' } });
    fireEvent(field, 'blur');
    expect(onSubmit).not.toHaveBeenCalled();
  });

  it('that cannot be typed is only read', () => {
    render(<FigureField label="Rate" value="25 fps" testID="rate" />);
    expect(screen.getByText('25 fps')).toBeTruthy();
  });
});

describe('a choice of a few', () => {
  const options = [
    { id: 'join', name: 'Join' },
    { id: 'sound', name: 'Sound' },
  ] as const;

  it('says which one is chosen, and tells of another', () => {
    const onChange = jest.fn();
    render(<Choice label="What turns" value="join" options={options} onChange={onChange} />);
    expect(screen.getByRole('radio', { name: 'Join' }).props.accessibilityState).toMatchObject({ checked: true });
    fireEvent.press(screen.getByRole('radio', { name: 'Sound' }));
    expect(onChange).toHaveBeenCalledWith('sound');
  });
});
