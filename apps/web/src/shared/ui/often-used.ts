/** What nearly every place needs of the component library: fetched and made ready while the first page is read. */
export { Button, Form, Input, Select } from 'antd';
