import './theme.css';
